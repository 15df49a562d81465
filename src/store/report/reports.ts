import { z } from "zod";
import { WEEKDAYS, type Weekday } from "@/core/time";
import type { Db } from "../pool";
import { whole } from "../whole";

export type StoredReport = Readonly<{
  id: number;
  name: string;
  zone: string;
  minute: number;
  days: readonly Weekday[];
  isOn: boolean;
  version: number;
  lastDay: string | null;
}>;

export type Recipient = Readonly<{
  id: number;
  reportId: number;
  address: string;
  /** A selector; empty: everything. */
  scope: string;
  status: "unconfirmed" | "confirmed" | "unsubscribed";
}>;

const daysSchema = z.array(z.enum(WEEKDAYS));
const COLUMNS = `id, name, zone, minute, days, is_on as "isOn", version, last_day as "lastDay"`;

export async function reportList(db: Db): Promise<StoredReport[]> {
  const { rows } = await db.query<StoredReport>(`select ${COLUMNS} from report order by name limit 1001`);
  whole(rows, { most: 1_000, what: "reports" });
  return rows.map((row) => ({ ...row, days: daysSchema.parse(row.days) }));
}

export type ReportEdit = Pick<StoredReport, "name" | "zone" | "minute" | "days" | "isOn"> & Readonly<{ lastDay: string | null }>;

/** The new report's number; null where one has the name. */
export async function addReport(db: Db, { name, zone, minute, days, isOn, lastDay }: ReportEdit): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into report (name, zone, minute, days, is_on, last_day)
     values ($1::text, $2::text, $3::integer, $4::text[], $5::boolean, $6::date)
     on conflict (name) do nothing
     returning id`,
    [name, zone, minute, days, isOn, lastDay],
  );
  return rows[0]?.id ?? null;
}

/** False when somebody wrote since `version`. */
export async function changeReport(
  db: Db,
  { id, version, edit }: { id: number; version: number; edit: ReportEdit },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update report
     set name = $3::text, zone = $4::text, minute = $5::integer, days = $6::text[], is_on = $7::boolean,
       last_day = greatest(last_day, $8::date), version = version + 1
     where id = $1::integer and version = $2::integer`,
    [id, version, edit.name, edit.zone, edit.minute, edit.days, edit.isOn, edit.lastDay],
  );
  return rowCount === 1;
}

export async function removeReport(db: Db, id: number): Promise<boolean> {
  const { rowCount } = await db.query("delete from report where id = $1::integer", [id]);
  return rowCount === 1;
}

/** Notes a day's issue as sent; false when another worker did. */
export async function claimIssue(db: Db, id: number, day: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "update report set last_day = $2::date where id = $1::integer and is_on and (last_day is null or last_day < $2::date)",
    [id, day],
  );
  return rowCount === 1;
}

export async function recipientList(db: Db, reportId: number): Promise<Recipient[]> {
  const { rows } = await db.query<Recipient>(
    `select id, report_id as "reportId", address, scope, status
     from recipient
     where report_id = $1::integer
     order by address
     limit 10001`,
    [reportId],
  );
  whole(rows, { most: 10_000, what: "recipients" });
  return rows;
}

export async function maybeRecipient(db: Db, id: number): Promise<Recipient | null> {
  const { rows } = await db.query<Recipient>(
    `select id, report_id as "reportId", address, scope, status from recipient where id = $1::integer`,
    [id],
  );
  return rows[0] ?? null;
}

/** The new recipient's number, unconfirmed; null where the report has the address already. One who unsubscribed may be asked again. */
export async function addRecipient(
  db: Db,
  { reportId, address, scope, person, at }: Omit<Recipient, "id" | "status"> & { person: string; at: number },
): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into recipient as r (report_id, address, scope, status, person, at)
     values ($1::integer, $2::text, $3::text, 'unconfirmed', $4::text, to_timestamp($5::double precision))
     on conflict (report_id, address) do update
       set scope = excluded.scope, status = 'unconfirmed', person = excluded.person, at = excluded.at
       where r.status = 'unsubscribed'
     returning id`,
    [reportId, address, scope, person, at],
  );
  return rows[0]?.id ?? null;
}

export async function moveRecipient(db: Db, id: number, status: Recipient["status"]): Promise<void> {
  await db.query("update recipient set status = $2::text where id = $1::integer", [id, status]);
}

export async function removeRecipient(db: Db, id: number): Promise<boolean> {
  const { rowCount } = await db.query("delete from recipient where id = $1::integer", [id]);
  return rowCount === 1;
}
