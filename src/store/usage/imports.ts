import { z } from "zod";
import type { Instant } from "@/core/time";
import { ensureMonths } from "../partitions";
import type { Db, Pool } from "../pool";
import { inTransaction } from "../transaction";
import { copyUsage } from "./lines";

export type ImportStatus = "arriving" | "waiting" | "running" | "done" | "refused" | "cancelled" | "taking back" | "taken back";

/** A file of usage lines: how far it is, what was taken and what was refused. */
export type UsageImport = Readonly<{
  id: number;
  fileName: string;
  sizeBytes: number;
  status: ImportStatus;
  bytesDone: number;
  linesDone: number;
  linesTaken: number;
  linesRefused: number;
  billed: string;
  firstDay: string | null;
  lastDay: string | null;
  currency: string;
  header: readonly string[] | null;
  error: string;
  person: string;
  at: Instant;
}>;

const COLUMNS = `id, file_name as "fileName", size_bytes::float8 as "sizeBytes", status, bytes_done::float8 as "bytesDone",
  lines_done::float8 as "linesDone", lines_taken::float8 as "linesTaken", lines_refused::float8 as "linesRefused",
  trim_scale(billed)::text as billed, first_day as "firstDay", last_day as "lastDay", currency, header, error, person, at`;

const headerSchema = z.array(z.string()).nullable();

function importOf(row: UsageImport): UsageImport {
  return { ...row, header: headerSchema.parse(row.header) };
}

/** Begins to take a file in; its number. */
export async function beginImport(
  db: Db,
  { fileName, person, at }: { fileName: string; person: string; at: Instant },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into usage_import (file_name, digest, size_bytes, status, person, at)
     values ($1::text, '', 0, 'arriving', $2::text, to_timestamp($3::double precision))
     returning id`,
    [fileName, person, at],
  );
  return (rows[0] as { id: number }).id;
}

/**
 * The disk need not confirm each of a file's many stretches: a crash may undo the last of them, whole,
 * and the file is gone on with from there. What ends it is confirmed, and all before it with it.
 */
const NO_WAIT = "set_config('synchronous_commit', 'off', true)";

export async function saveChunk(db: Db, importId: number, { n, bytes }: { n: number; bytes: Buffer }): Promise<void> {
  await db.query(
    `with quick as (select ${NO_WAIT})
     insert into usage_chunk (import_id, n, bytes)
     select $1::integer, $2::integer, $3::bytea
     from quick`,
    [importId, n, bytes],
  );
}

/** The file has arrived whole; `digest` is that of its lines, however they were packed, encoded and ended. Null and nothing kept where the same file counts already: the number of that one comes back instead. */
export async function endArrival(
  pool: Pool,
  id: number,
  { digest, digestAsItCame, sizeBytes }: { digest: string; digestAsItCame: string; sizeBytes: number },
): Promise<{ sameAs: number } | null> {
  return inTransaction(pool, async (tx) => {
    const { rows } = await tx.query<{ id: number }>(
      // Imports from before lines were looked at have the digest of their bytes.
      `select id from usage_import where digest = any ($1::text[]) and status in ('waiting', 'running', 'done', 'taking back')`,
      [[digest, digestAsItCame]],
    );
    if (rows[0]) {
      await tx.query("delete from usage_import where id = $1::integer", [id]);
      return { sameAs: rows[0].id };
    }
    await tx.query(
      "update usage_import set status = 'waiting', digest = $2::text, size_bytes = $3::bigint where id = $1::integer",
      [id, digest, sizeBytes],
    );
    return null;
  });
}

/** Forgets a file that did not arrive whole. */
export async function forgetArrival(db: Db, id: number): Promise<void> {
  await db.query("delete from usage_import where id = $1::integer and status = 'arriving'", [id]);
}

/** Newest first. */
export async function importList(db: Db): Promise<UsageImport[]> {
  const { rows } = await db.query<UsageImport>(
    `select ${COLUMNS} from usage_import where status <> 'arriving' order by id desc limit 200`,
  );
  return rows.map(importOf);
}

export async function maybeImport(db: Db, id: number): Promise<UsageImport | null> {
  const { rows } = await db.query<UsageImport>(`select ${COLUMNS} from usage_import where id = $1::integer`, [id]);
  return rows[0] ? importOf(rows[0]) : null;
}

/** Impact an import from one of some states to another; false when it was in none of them. */
export async function moveImport(
  db: Db,
  id: number,
  { from, to, error = "" }: { from: readonly ImportStatus[]; to: ImportStatus; error?: string },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update usage_import set status = $3::text, error = $4::text where id = $1::integer and status = any ($2::text[])`,
    [id, from, to, error],
  );
  return rowCount === 1;
}

export async function saveHeader(
  db: Db,
  id: number,
  { header, currency, bytesDone }: { header: readonly string[]; currency: string; bytesDone: number },
): Promise<void> {
  await db.query(
    `update usage_import set header = $2::jsonb, currency = $3::text, bytes_done = $4::bigint, lines_done = 1
     where id = $1::integer`,
    [id, JSON.stringify(header), currency, bytesDone],
  );
}

/** The bytes of the file from a place on, in the pieces it came in. */
export async function* chunksFrom(db: Db, importId: number, offset: number): AsyncGenerator<Buffer> {
  const { rows } = await db.query<{ n: number; begins: string }>(
    `select n, begins
     from (
       select n, sum(octet_length(bytes)) over (order by n) as ends, sum(octet_length(bytes)) over (order by n) - octet_length(bytes) as begins
       from usage_chunk
       where import_id = $1::integer
     ) as chunk
     where ends > $2::bigint
     order by n
     limit 1`,
    [importId, offset],
  );
  const [first] = rows;
  if (!first) return;
  // While one is read through the next is on its way.
  let next = chunkAt(db, importId, { n: first.n, skip: offset - Number(first.begins) });
  for (let n = first.n + 1; ; n++) {
    const bytes = await next;
    if (!bytes) return;
    next = chunkAt(db, importId, { n, skip: 0 });
    // Whoever stops reading asks for no answer.
    next.catch(() => {});
    yield bytes;
  }
}

/** One piece of a file; null after the last. As base64, which is two thirds of what the driver would be given. */
async function chunkAt(db: Db, importId: number, { n, skip }: { n: number; skip: number }): Promise<Buffer | null> {
  const { rows } = await db.query<{ bytes: string }>(
    `select encode(substring(bytes from $3::integer), 'base64') as bytes
     from usage_chunk
     where import_id = $1::integer and n = $2::integer`,
    [importId, n, skip + 1],
  );
  return rows[0] ? Buffer.from(rows[0].bytes, "base64") : null;
}

export async function dropChunks(db: Db, importId: number): Promise<void> {
  await db.query("delete from usage_chunk where import_id = $1::integer", [importId]);
}

export type Refusal = Readonly<{ line: number; reason: string; text: string }>;
export const REFUSALS_KEPT = 1000;

/** What one stretch of a file came to. `bytesDone` is where the next one begins. */
export type ImportStep = Readonly<{
  copy: string;
  taken: number;
  /** The days that lines begin on. */
  days: Iterable<string>;
  /** The last day that a charge covers, and how many days the longest of them covers. */
  lastDay: string | null;
  lastsDays: number;
  refusals: readonly Refusal[];
  refused: number;
  bytesBefore: number;
  bytesDone: number;
  linesDone: number;
}>;

/**
 * Stores a stretch of a file with its progress, together or not at all. False when the import is no
 * longer running from where the stretch began: somebody cancelled it, or another worker went on.
 */
export async function saveStep(pool: Pool, id: number, step: ImportStep): Promise<boolean> {
  const days = [...new Set(step.days)].sort();
  await ensureMonths(
    pool,
    "usage_line",
    days.map((day) => day.slice(0, 7)),
  );
  return inTransaction(pool, async (tx) => {
    await tx.query(`select ${NO_WAIT}`);
    const { rowCount } = await tx.query(
      `update usage_import
       set bytes_done = $3::bigint, lines_done = $4::bigint, lines_taken = lines_taken + $5::bigint,
         lines_refused = lines_refused + $6::bigint,
         first_day = least(first_day, $7::date), last_day = greatest(last_day, $8::date),
         lasts_days = greatest(lasts_days, $9::integer)
       where id = $1::integer and status = 'running' and bytes_done = $2::bigint`,
      [
        id,
        step.bytesBefore,
        step.bytesDone,
        step.linesDone,
        step.taken,
        step.refused,
        days[0] ?? null,
        step.lastDay,
        step.lastsDays,
      ],
    );
    if (rowCount !== 1) return false;
    if (step.taken > 0) await copyUsage(tx, step.copy);
    if (step.refusals.length > 0) {
      await tx.query(
        `insert into usage_refusal (import_id, line, reason, text)
         select $1::integer, line, reason, text
         from unnest($2::bigint[], $3::text[], $4::text[]) as each (line, reason, text)`,
        [
          id,
          step.refusals.map(({ line }) => line),
          step.refusals.map(({ reason }) => reason),
          step.refusals.map(({ text }) => text),
        ],
      );
    }
    return true;
  });
}

/** The file is through: adds up what was billed. */
export async function endImport(db: Db, id: number): Promise<void> {
  await db.query(
    `update usage_import
     set status = 'done', billed = coalesce((select sum(billed) from usage_line where import_id = $1::integer), 0)
     where id = $1::integer and status = 'running'`,
    [id],
  );
  await dropChunks(db, id);
}

/** Takes away every line of a file, and what was refused of it. */
export async function eraseImport(pool: Pool, id: number): Promise<void> {
  await inTransaction(pool, async (tx) => {
    await tx.query("delete from usage_line where import_id = $1::integer and import_id <> 0", [id]);
    await tx.query("delete from usage_month where import_id = $1::integer and import_id <> 0", [id]);
    await tx.query("delete from usage_refusal where import_id = $1::integer", [id]);
    await tx.query("delete from usage_chunk where import_id = $1::integer", [id]);
    await tx.query(
      "update usage_import set status = 'taken back', lines_taken = 0, billed = 0 where id = $1::integer and status = 'taking back'",
      [id],
    );
  });
}

/** The refused lines that were kept, by line. */
export async function refusalList(db: Db, importId: number): Promise<Refusal[]> {
  const { rows } = await db.query<Refusal>(
    `select line::float8 as line, reason, text
     from usage_refusal
     where import_id = $1::integer
     order by line
     limit ${REFUSALS_KEPT}`,
    [importId],
  );
  return rows;
}
