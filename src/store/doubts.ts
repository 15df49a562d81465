import type { Doubt, StandingDoubt } from "@/core/rounds";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";

type Row = StandingDoubt & { account: string };

const COLUMNS = `account, since, of_all as "of", missing, untagged, guards_lost as "guardsLost", needs_person as "needsPerson", person`;

/** The listings that are not believed, by account. */
export async function doubtMap(db: Db): Promise<Map<string, StandingDoubt>> {
  const { rows } = await db.query<Row>(`select ${COLUMNS} from doubt order by account`);
  return new Map(rows.map(({ account, ...doubt }) => [account, doubt]));
}

/** Stands in place of one that was there; nobody has said yes to it yet. */
export async function saveDoubt(db: Db, account: string, doubt: Doubt & { since: Instant }): Promise<void> {
  await db.query(
    `insert into doubt (account, since, of_all, missing, untagged, needs_person, guards_lost)
     values ($1::text, to_timestamp($2::double precision), $3::integer, $4::text[], $5::text[], $6::boolean, $7::integer)
     on conflict (account) do update set since = excluded.since, of_all = excluded.of_all, guards_lost = excluded.guards_lost, missing = excluded.missing,
       untagged = excluded.untagged, needs_person = excluded.needs_person, person = null`,
    [account, doubt.since, doubt.of, doubt.missing, doubt.untagged, doubt.needsPerson, doubt.guardsLost],
  );
}

export async function endDoubt(db: Db, account: string): Promise<void> {
  await db.query("delete from doubt where account = $1::text", [account]);
}

/** A person says that the listing of an account, doubted since an instant, is true. False where that doubt is gone. */
export async function confirmDoubt(
  db: Db,
  account: string,
  { since, person }: { since: Instant; person: string },
): Promise<boolean> {
  const { rowCount } = await db.query(
    "update doubt set person = $3::text where account = $1::text and since = to_timestamp($2::double precision)",
    [account, since, person],
  );
  return rowCount === 1;
}
