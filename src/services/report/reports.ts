import { z } from "zod";
import { isAddress, nextIssue } from "@/core/report";
import { matcher, tryParseSelector } from "@/core/selector";
import { DAY_S, formatDate, type Instant, isZone, localTime, WEEKDAYS } from "@/core/time";
import {
  addMail,
  addRecipient,
  addReport,
  changeReport,
  type MailLine,
  mailList,
  maybeMail,
  maybeRecipient,
  moveRecipient,
  type Recipient,
  type ReportEdit,
  recipientList,
  removeRecipient,
  removeReport,
  reportList,
  type StoredReport,
  signal,
} from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, RefusedError, readClaim, type Services, signClaim } from "../admin";
import { loadSnapshot } from "../inventory";
import { composeReport, scopeOf } from "./compose";
import { queueMail } from "./deliver";
import { noticeHtml, reportHtml } from "./html";
import { reportText } from "./text";
import { type ReportFrame, subjectOf } from "./words";

/** A recipient, and whether nothing there is matches their scope: their report would be a daily all-clear. */
export type OpenRecipient = Recipient & Readonly<{ matchesNothing: boolean }>;
export type OpenReport = StoredReport & Readonly<{ recipients: readonly OpenRecipient[]; next: Instant | null }>;

export type ReportsView = Readonly<{ now: Instant; reports: readonly OpenReport[]; mails: readonly MailLine[] }>;

/** Every report with who gets it and when, and the last mails. */
export async function reportsView(services: Services, actor: Actor): Promise<ReportsView> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const [{ now }, stored, mails, { resources }] = await Promise.all([
    services.clock.read(),
    reportList(pool),
    mailList(pool, null, 60),
    loadSnapshot(services),
  ]);
  const isIdle = (scope: string) => {
    const parsed = scope === "" ? null : tryParseSelector(scope);
    return parsed?.ok === true && !resources.some(matcher(parsed.selector));
  };
  const reports = await Promise.all(
    stored.map(async (report) => ({
      ...report,
      recipients: (await recipientList(pool, report.id)).map((recipient) => ({
        ...recipient,
        matchesNothing: isIdle(recipient.scope),
      })),
      next: report.isOn ? nextIssue(report, now) : null,
    })),
  );
  return { now, reports, mails };
}

export const reportEditSchema = z.strictObject({
  name: z.string().trim().min(1, "a name is asked for").max(80),
  zone: z.string().refine(isZone, "expected a time zone such as Europe/Oslo"),
  minute: z.number().int().min(0).max(1439),
  days: z.array(z.enum(WEEKDAYS)).max(7),
  isOn: z.boolean(),
});
export type ReportDraft = z.infer<typeof reportEditSchema>;

/** Saves a report, a new one where `id` is null. Its first issue is the next that comes, never one of today's that is past. */
export async function saveReport(
  services: Services,
  actor: Actor,
  { id, version, draft }: { id: number | null; version: number; draft: ReportDraft },
): Promise<number> {
  authorise(actor, "send reports", ESTATE);
  const { now } = await services.clock.read();
  const { day, second } = localTime(draft.zone, now);
  const isPast = second >= draft.minute * 60;
  const edit: ReportEdit = { ...draft, lastDay: formatDate(isPast ? day : day - 1) };
  let saved = id;
  if (id === null) {
    saved = await addReport(services.pool, edit);
    if (saved === null)
      throw new RefusedError("name_taken", "It was not saved.", [
        { path: "name", message: `there is a report "${draft.name}" already` },
      ]);
  } else if (!(await changeReport(services.pool, { id, version, edit }))) {
    throw new RefusedError("changed_since", "Somebody else changed this report since you opened it; reload to see it.");
  }
  await signal(services.pool, "mail");
  return saved as number;
}

export async function deleteReport(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "send reports", ESTATE);
  if (!(await removeReport(services.pool, id))) throw new RefusedError("not_found", `There is no report ${id}.`);
  await signal(services.pool, "mail");
}

const CONFIRM_DAYS = 7;

/** Asks an address whether it wants a report: it gets nothing else before it confirms by the link. */
export async function inviteRecipient(
  services: Services,
  actor: Actor,
  { reportId, address, scope }: { reportId: number; address: string; scope: string },
): Promise<void> {
  authorise(actor, "send reports", ESTATE);
  const { pool } = services;
  const fields: FieldIssue[] = [];
  if (!isAddress(address.trim())) fields.push({ path: "address", message: "expected one address such as name@example.org" });
  const issue = scopeIssue(scope);
  if (issue) fields.push(issue);
  if (fields.length > 0) throw new RefusedError("invalid", fields[0]?.message ?? "", fields);
  const report = (await reportList(pool)).find(({ id }) => id === reportId);
  if (!report) throw new RefusedError("not_found", `There is no report ${reportId}.`);
  const { now } = await services.clock.read();
  const recipient = await addRecipient(pool, {
    reportId,
    address: address.trim(),
    scope: scope.trim(),
    person: actor.name,
    at: now,
  });
  if (recipient === null)
    throw new RefusedError("name_taken", "Nobody was asked twice.", [
      { path: "address", message: "it is on this report already" },
    ]);
  const token = await signClaim(pool, { what: "confirm", recipient, until: now + CONFIRM_DAYS * DAY_S });
  const href = `${services.url}/mail/confirm?token=${token}`;
  const title = `Do you want "${report.name}"?`;
  const text = `${actor.name} put this address on a daily report of what runs and what it costs. Nothing is sent before you confirm; the link holds for ${CONFIRM_DAYS} days.`;
  const mail = await addMail(pool, {
    kind: "confirm",
    reportId,
    recipientId: recipient,
    address: address.trim(),
    day: null,
    subject: title,
    html: noticeHtml({ title, text, label: "Yes, send it to me", href }),
    text: `${title}\n\n${text}\n\n${href}\n`,
    headers: {},
    at: now,
  });
  if (mail !== null) await queueMail(services.pool, mail);
  await signal(pool, "mail");
}

export async function dropRecipient(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "send reports", ESTATE);
  if (!(await removeRecipient(services.pool, id))) throw new RefusedError("not_found", "That recipient is gone already.");
  await signal(services.pool, "mail");
}

/** What a link in a report's mail may do. */
export type MailLink = "confirm" | "unsubscribe";

export type LinkView = Readonly<{ ok: true; address: string; report: string } | { ok: false; reason: string }>;

/** What a link in a mail would do. Opening it changes nothing: mail programs open links by themselves. */
export async function viewLink(services: Services, token: string, what: MailLink): Promise<LinkView> {
  const { now } = await services.clock.read();
  const result = await readClaim(services.pool, token, now);
  if (!result.ok || result.claim.what === "leave on" || result.claim.what !== what) {
    const isOld = !result.ok && result.reason === "expired";
    return {
      ok: false,
      reason: isOld ? "This link has expired; ask to be put on the report again." : "This is no link of ours.",
    };
  }
  const recipient = await maybeRecipient(services.pool, result.claim.recipient);
  const report = (await reportList(services.pool)).find(({ id }) => id === recipient?.reportId);
  if (!recipient || !report) return { ok: false, reason: "The report is gone, or this address is no longer on it." };
  return { ok: true, address: recipient.address, report: report.name };
}

/** Does what a link says: its signature is all the right that is asked for. */
export async function followLink(services: Services, token: string, what: MailLink): Promise<LinkView> {
  const view = await viewLink(services, token, what);
  if (!view.ok) return view;
  const { now } = await services.clock.read();
  const result = await readClaim(services.pool, token, now);
  if (!result.ok || result.claim.what === "leave on") return { ok: false, reason: "This link has expired." };
  const { recipient: id } = result.claim;
  const recipient = await maybeRecipient(services.pool, id);
  // A link to confirm does not bring back who has unsubscribed since.
  if (what === "confirm" && recipient?.status === "unsubscribed")
    return { ok: false, reason: "You have unsubscribed since; ask to be put on the report again." };
  await moveRecipient(services.pool, id, what === "confirm" ? "confirmed" : "unsubscribed");
  await signal(services.pool, "mail");
  return view;
}

/** What is wrong with a scope as typed; null where it can be read. */
function scopeIssue(scope: string): FieldIssue | null {
  const parsed = scope.trim() === "" ? null : tryParseSelector(scope);
  return parsed && !parsed.ok ? { path: "scope", message: parsed.error.message } : null;
}

export type ReportPreview = Readonly<{ subject: string; html: string; text: string }>;

/** The report as it would be mailed now, or at another instant, for a scope. */
export async function previewReport(
  services: Services,
  actor: Actor,
  { name, zone, scope, at = null }: { name: string; zone: string; scope: string; at?: Instant | null },
): Promise<ReportPreview> {
  authorise(actor, "look", ESTATE);
  const issue = scopeIssue(scope);
  if (issue) throw new RefusedError("invalid", issue.message, [issue]);
  const content = await composeReport(services, scopeOf(scope), at);
  const frame: ReportFrame = { name, url: services.url, zone, unsubscribe: null };
  return { subject: subjectOf(content, frame), html: reportHtml(content, frame), text: reportText(content, frame) };
}

/** One mail as it went out. Throws a RefusedError where there is none. */
export async function openMail(services: Services, actor: Actor, id: number) {
  authorise(actor, "look", ESTATE);
  const mail = await maybeMail(services.pool, id);
  if (!mail) throw new RefusedError("not_found", `There is no mail ${id}.`);
  return mail;
}
