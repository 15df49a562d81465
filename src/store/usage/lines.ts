import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import type { PoolClient } from "pg";
import { from as copyFrom } from "pg-copy-streams";
import type { FocusLine } from "@/core/focus";
import { formatInstant, type Instant } from "@/core/time";
import { copyText } from "../copy-text";
import { ensureMonths } from "../partitions";
import type { Db, Pool } from "../pool";
import { inTransaction } from "../transaction";
import { whole } from "../whole";

/** The providers' own meters; every other number is an imported file. */
export const METER = 0;

/** A line with its mark within its import: the meter's own name for it, or its number in the file. */
export type UsageLine = FocusLine & Readonly<{ mark: string }>;

const COLUMNS =
  "import_id, day, line, account, resource_id, resource_type, region, service_category, charge_category, description, from_at, to_at, quantity, unit, rate, billed, effective, list, currency, tags, rest";

/** One line of the database's own text format for COPY. */
export function usageCopyLine(importId: number, mark: string, line: FocusLine): string {
  return `${importId}\t${line.day}\t${copyText(mark)}\t${copyText(line.account)}\t${copyText(line.resourceId)}\t${copyText(line.resourceType)}\t${copyText(line.region)}\t${copyText(line.serviceCategory)}\t${copyText(line.chargeCategory)}\t${copyText(line.description)}\t${instantText(line.from)}\t${instantText(line.to)}\t${line.quantity ?? "\\N"}\t${copyText(line.unit)}\t${line.rate ?? "\\N"}\t${line.billed}\t${line.effective ?? "\\N"}\t${line.list ?? "\\N"}\t${line.currency}\t${copyText(line.tags)}\t${copyText(line.rest)}\n`;
}

const texts = new Map<Instant, string>();

function instantText(t: Instant): string {
  const known = texts.get(t);
  if (known !== undefined) return known;
  if (texts.size > 20_000) texts.clear();
  const text = formatInstant(t);
  texts.set(t, text);
  return text;
}

/** Writes lines made by `usageCopyLine` within a transaction. The months have to be there. */
export async function copyUsage(tx: PoolClient, text: string): Promise<void> {
  await pipeline(Readable.from([Buffer.from(text)]), tx.query(copyFrom(`copy usage_line (${COLUMNS}) from stdin`)));
}

/** Stores one day of an account's meter in place of what was stored of it. */
export async function saveMeterDay(
  pool: Pool,
  { account, day, lines }: { account: string; day: string; lines: readonly UsageLine[] },
): Promise<void> {
  await ensureMonths(pool, "usage_line", [day.slice(0, 7), ...lines.map((line) => line.day.slice(0, 7))]);
  await inTransaction(pool, async (tx) => {
    await tx.query("delete from usage_line where import_id = 0 and day = $1::date and account = $2::text", [day, account]);
    await copyUsage(tx, lines.map((line) => usageCopyLine(METER, line.mark, line)).join(""));
    await tx.query(
      `insert into usage_read (account, day, lines)
       values ($1::text, $2::date, $3::integer)
       on conflict (account, day) do update set lines = excluded.lines`,
      [account, day, lines.length],
    );
  });
}

/** The days of an account that are stored whole. */
export async function meterDaysRead(db: Db, account: string): Promise<Set<string>> {
  const { rows } = await db.query<{ day: string }>("select day from usage_read where account = $1::text limit 10001", [account]);
  whole(rows, { most: 10_000, what: "days read" });
  return new Set(rows.map(({ day }) => day));
}

type LineRow = {
  line: string;
  day: string;
  account: string;
  resource_id: string;
  resource_type: string;
  region: string;
  service_category: string;
  charge_category: string;
  description: string;
  from_at: Instant;
  to_at: Instant;
  quantity: string | null;
  unit: string;
  rate: string | null;
  billed: string;
  effective: string | null;
  list: string | null;
  currency: string;
  tags: string;
  rest: string;
};

const PAGE = 20_000;

/** Lines of an import that begin on days, both included, in the order of its file, a page at a time through one cursor. */
export async function* usageLines(
  pool: Pool,
  { importId, from, to }: { importId: number; from: string; to: string },
): AsyncGenerator<readonly UsageLine[]> {
  const client = await pool.connect();
  let isBroken = true;
  try {
    await client.query("begin read only");
    await client.query(
      `declare lines no scroll cursor for
       select ${COLUMNS.replace("import_id, ", "")}
       from usage_line
       where import_id = ${Number(importId)} and day between '${dateText(from)}' and '${dateText(to)}'
       order by line::bigint`,
    );
    for (;;) {
      const { rows } = await client.query<LineRow>(`fetch ${PAGE} from lines`);
      if (rows.length === 0) break;
      yield rows.map(lineOf);
    }
    await client.query("rollback");
    isBroken = false;
  } finally {
    // A reader that leaves early leaves its cursor open: the connection goes with it.
    client.release(isBroken);
  }
}

/** A cursor takes no parameters, so what is spliced in is proved a date. */
function dateText(day: string): string {
  if (!/^\d{4}-\d\d-\d\d$/.test(day)) throw new Error(`day ${day}`);
  return day;
}

function lineOf(row: LineRow): UsageLine {
  return {
    mark: row.line,
    day: row.day,
    from: row.from_at,
    to: row.to_at,
    account: row.account,
    resourceId: row.resource_id,
    resourceType: row.resource_type,
    region: row.region,
    serviceCategory: row.service_category,
    chargeCategory: row.charge_category,
    description: row.description,
    quantity: row.quantity,
    unit: row.unit,
    rate: row.rate,
    billed: row.billed,
    effective: row.effective,
    list: row.list,
    currency: row.currency,
    tags: row.tags,
    rest: row.rest,
  };
}

/** What was billed for a resource on a day, exactly, and in how many lines; `resourceId` is as its provider calls it. */
export type BilledDay = Readonly<{ resourceId: string; day: string; account: string; billed: string; lines: number }>;

/**
 * What an import says was billed, by resource and day, over days, both included. A charge over several days is spread
 * over them evenly by the second, so that its parts add up to it.
 */
export async function billedDays(
  db: Db,
  { importId, from, to }: { importId: number; from: string; to: string },
): Promise<BilledDay[]> {
  const { rows } = await db.query<BilledDay>(
    `with line as (
       select resource_id, account, day, from_at, to_at, billed, to_at > (day + 1)::timestamptz as is_long
       from usage_line
       where import_id = $1::integer
         and day between $2::date - coalesce((select lasts_days from usage_import where id = $1::integer), 1) and $3::date
     ),
     part as (
       select resource_id, account, day, billed from line where not is_long
       union all
       select resource_id, account, each.day,
         case when (each.day + 1)::timestamptz >= to_at then billed
           else round(billed * extract(epoch from (each.day + 1)::timestamptz - from_at) / extract(epoch from to_at - from_at), 12)
         end
         - case when each.day::timestamptz <= from_at then 0
           else round(billed * extract(epoch from each.day::timestamptz - from_at) / extract(epoch from to_at - from_at), 12)
         end
       from line
       cross join lateral (
         select day::date as day
         from generate_series(line.day::timestamptz, line.to_at - interval '1 second', interval '1 day') as each (day)
       ) as each
       where is_long
     )
     select resource_id as "resourceId", day, account, sum(billed)::text as billed, count(*)::integer as lines
     from part
     where day between $2::date and $3::date
     group by account, resource_id, day
     limit 2000001`,
    [importId, from, to],
  );
  whole(rows, { most: 2_000_000, what: "billed days" });
  return rows;
}

/** The last day the meter was read whole for every account; null before the first. */
export async function meterReadThrough(db: Db): Promise<string | null> {
  const { rows } = await db.query<{ day: string | null }>(
    `select min(last) as day
     from (select a.name, max(u.day) as last from account a left join usage_read u on u.account = a.name group by a.name) as each`,
  );
  return rows[0]?.day ?? null;
}
