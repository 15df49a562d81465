import { z } from "zod";
import type { Instant } from "@/core/time";
import type { Db } from "../pool";

export type Mail = Readonly<{
  id: number;
  kind: "report" | "confirm" | "alert" | "idle";
  reportId: number | null;
  recipientId: number | null;
  address: string;
  day: string | null;
  subject: string;
  html: string;
  text: string;
  headers: Readonly<Record<string, string>>;
  status: "waiting" | "sent" | "failed";
  attempts: number;
  lastError: string;
  at: Instant;
  sentAt: Instant | null;
}>;

export type NewMail = Pick<
  Mail,
  "kind" | "reportId" | "recipientId" | "address" | "day" | "subject" | "html" | "text" | "headers" | "at"
>;
/** A mail without its body, for lists. */
export type MailLine = Omit<Mail, "html" | "text" | "headers">;

const LINE_COLUMNS = `id, kind, report_id as "reportId", recipient_id as "recipientId", address, day, subject, status, attempts,
  last_error as "lastError", at, sent_at as "sentAt"`;

/** The new mail's number; null where the recipient has an issue of that day already. */
export async function addMail(db: Db, mail: NewMail): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into mail (kind, report_id, recipient_id, address, day, subject, html, text, headers, status, at)
     values ($1::text, $2::integer, $3::integer, $4::text, $5::date, $6::text, $7::text, $8::text, $9::jsonb, 'waiting',
       to_timestamp($10::double precision))
     on conflict do nothing
     returning id`,
    [
      mail.kind,
      mail.reportId,
      mail.recipientId,
      mail.address,
      mail.day,
      mail.subject,
      mail.html,
      mail.text,
      JSON.stringify(mail.headers),
      mail.at,
    ],
  );
  return rows[0]?.id ?? null;
}

export async function maybeMail(db: Db, id: number): Promise<Mail | null> {
  const { rows } = await db.query<Mail>(`select ${LINE_COLUMNS}, html, text, headers from mail where id = $1::integer`, [id]);
  const row = rows[0];
  return row ? { ...row, headers: z.record(z.string(), z.string()).parse(row.headers) } : null;
}

/** Newest first; of one report, or of all. */
export async function mailList(db: Db, reportId: number | null, limit = 100): Promise<MailLine[]> {
  const { rows } = await db.query<MailLine>(
    `select ${LINE_COLUMNS}
     from mail
     where $1::integer is null or report_id = $1::integer
     order by id desc
     limit $2::integer`,
    [reportId, limit],
  );
  return rows;
}

/** Notes what came of an attempt to send. */
export async function saveAttempt(
  db: Db,
  id: number,
  { status, error, at }: { status: Mail["status"]; error: string; at: Instant },
): Promise<void> {
  await db.query(
    `update mail
     set status = $2::text, attempts = attempts + 1, last_error = $3::text,
       sent_at = case when $2::text = 'sent' then to_timestamp($4::double precision) end
     where id = $1::integer`,
    [id, status, error.slice(0, 500), at],
  );
}
