import { createHash } from "node:crypto";
import { dueIssue } from "@/core/report";
import { DAY_S, type Instant } from "@/core/time";
import {
  addJob,
  addMail,
  claimIssue,
  type Db,
  type Mail,
  maybeMail,
  type Recipient,
  recipientList,
  reportList,
  type StoredReport,
  saveAttempt,
  signal,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services, signClaim } from "../admin";
import { composeReport, scopeOf } from "./compose";
import { reportHtml } from "./html";
import { reportText } from "./text";
import { type ReportFrame, subjectOf } from "./words";

const UNSUBSCRIBE_DAYS = 400;
export const MAIL_ATTEMPTS = 10;

/** Puts every issue that is due on its way: once for each local day, to those who confirmed. */
export async function issueDueReports(services: Services, actor: Actor): Promise<{ issues: number }> {
  authorise(actor, "work", ESTATE);
  const { now } = await services.clock.read();
  let issues = 0;
  for (const report of await reportList(services.pool)) {
    const day = report.isOn ? dueIssue(report, { now, lastDay: report.lastDay }) : null;
    if (day === null || !(await claimIssue(services.pool, report.id, day))) continue;
    issues++;
    const confirmed = (await recipientList(services.pool, report.id)).filter(({ status }) => status === "confirmed");
    for (const recipient of confirmed) await issue(services, { report, recipient, day });
  }
  if (issues > 0) await signal(services.pool, "mail");
  return { issues };
}

/** Sends one recipient an issue now, besides those of its days. Only to who confirmed. */
export async function sendNow(
  services: Services,
  actor: Actor,
  { reportId, recipientId }: { reportId: number; recipientId: number | null },
): Promise<{ mails: number }> {
  authorise(actor, "send reports", ESTATE);
  const report = (await reportList(services.pool)).find(({ id }) => id === reportId);
  if (!report) throw new RefusedError("not_found", `There is no report ${reportId}.`);
  const recipients = (await recipientList(services.pool, reportId)).filter(
    ({ id, status }) => status === "confirmed" && (recipientId === null || id === recipientId),
  );
  if (recipients.length === 0)
    throw new RefusedError(
      "invalid",
      "Nobody to send it to: a recipient gets nothing before confirming by the link they were sent.",
    );
  for (const recipient of recipients) await issue(services, { report, recipient, day: null });
  await signal(services.pool, "mail");
  return { mails: recipients.length };
}

type Issue = Readonly<{ report: StoredReport; recipient: Recipient; day: string | null }>;

async function issue(services: Services, { report, recipient, day }: Issue): Promise<void> {
  const { now } = await services.clock.read();
  const content = await composeReport(services, scopeOf(recipient.scope));
  const { unsubscribe, headers } = await wayOut(services, recipient.id, now);
  const frame: ReportFrame = { name: report.name, url: services.url, zone: report.zone, unsubscribe };
  const id = await addMail(services.pool, {
    kind: "report",
    reportId: report.id,
    recipientId: recipient.id,
    address: recipient.address,
    day,
    subject: subjectOf(content, frame).replaceAll("\u00a0", " "),
    html: reportHtml(content, frame),
    text: reportText(content, frame),
    headers,
    at: now,
  });
  if (id !== null) await queueMail(services.pool, id);
}

/** How a recipient gets no more of a report: the page, and the headers for a mail program. */
export async function wayOut(
  { pool, url }: Services,
  recipient: number,
  now: Instant,
): Promise<{ unsubscribe: string; headers: Record<string, string> }> {
  const token = await signClaim(pool, { what: "unsubscribe", recipient, until: now + UNSUBSCRIBE_DAYS * DAY_S });
  return {
    unsubscribe: `${url}/mail/unsubscribe?token=${token}`,
    headers: {
      "List-Unsubscribe": `<${url}/api/mail/unsubscribe?token=${token}>`,
      // RFC 8058: a mail client may do it by one press of its own.
      "List-Unsubscribe-Post": "List-Unsubscribe=One-Click",
    },
  };
}

/** The same for every attempt at a mail, and another's for no other: numbers begin again where a database does. */
function markOf({ address, subject, text, at }: Pick<Mail, "address" | "subject" | "text" | "at">): string {
  return createHash("sha256")
    .update(JSON.stringify([address, at, subject, text]))
    .digest("hex")
    .slice(0, 24);
}

/** Puts a mail on the queue; what fails is tried again with growing waits. */
export async function queueMail(db: Db, id: number): Promise<void> {
  await addJob(db, "mail", { payload: { id }, key: `mail ${id}`, maxAttempts: MAIL_ATTEMPTS });
}

/** One attempt at a mail. Throws when it did not go through, so that the queue tries again; the last attempt ends it. */
export async function sendMail(services: Services, actor: Actor, { id, isLast }: { id: number; isLast: boolean }): Promise<void> {
  authorise(actor, "work", ESTATE);
  const mail = await maybeMail(services.pool, id);
  if (mail?.status !== "waiting") return;
  const { now } = await services.clock.read();
  const host = new URL(services.url).hostname;
  try {
    await services.mailer({
      to: mail.address,
      subject: mail.subject,
      html: mail.html,
      text: mail.text,
      // RFC 3834: what answers mails by itself lets this one be.
      headers: { ...mail.headers, "Auto-Submitted": "auto-generated" },
      messageId: `<umbrik-mail-${mail.id}-${markOf(mail)}@${host}>`,
    });
    await saveAttempt(services.pool, id, { status: "sent", error: "", at: now });
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    await saveAttempt(services.pool, id, { status: isLast ? "failed" : "waiting", error: message, at: now });
    throw error;
  } finally {
    await signal(services.pool, "mail");
  }
}

/** Tries a mail again that was given up. */
export async function retryMail(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "send reports", ESTATE);
  const mail = await maybeMail(services.pool, id);
  if (!mail || mail.status === "sent") throw new RefusedError("invalid", "That mail is sent already, or is none.");
  if (mail.status === "failed") await saveAttempt(services.pool, id, { status: "waiting", error: mail.lastError, at: 0 });
  await queueMail(services.pool, id);
  await signal(services.pool, "mail");
}
