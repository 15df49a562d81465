import { createServer, type Server } from "node:net";
import { afterAll, beforeAll, expect, test } from "vitest";
import { smtpMailer } from "@/provider";
import { DEMO_ACTOR, RefusedError, type Services, WORKER } from "@/services/admin";
import { burnPage, closeSpendDays } from "@/services/cost";
import {
  deleteReport,
  dropRecipient,
  followLink,
  inviteRecipient,
  issueDueReports,
  openMail,
  previewReport,
  reportsView,
  retryMail,
  saveReport,
  sendMail,
  sendNow,
  sunkMails,
  viewLink,
} from "@/services/report";
import { runRound } from "@/services/rounds";
import { mailList } from "@/store";
import { EVERYTHING } from "../support/burn-query";
import { within } from "../support/patience";
import { startWorld, type TestWorld } from "../support/world";

let world: TestWorld;
let services: Services;
beforeAll(async () => {
  world = await startWorld();
  services = world.services;
  await runRound(services, DEMO_ACTOR, "act");
  await closeSpendDays(services, WORKER);
});
afterAll(() => world.close());

const DRAFT = { name: "Evening", zone: "Europe/Oslo", minute: 18 * 60, days: ["thu", "fri"] as ("thu" | "fri")[], isOn: true };
const report = async () => {
  const { reports } = await reportsView(services, DEMO_ACTOR);
  const found = reports.find(({ name }) => name === "Evening");
  if (!found) throw new Error("no report");
  return found;
};
/** Sends whatever waits, as the queue would. */
async function deliver(isLast = false): Promise<string[]> {
  const problems: string[] = [];
  for (const { id, status } of await mailList(services.pool, null)) {
    if (status !== "waiting") continue;
    await sendMail(services, WORKER, { id, isLast }).catch((error: Error) => problems.push(error.message));
  }
  return problems;
}
const tokenIn = (text: string) => /token=([\w.-]+)/.exec(text)?.[1] ?? "";

test("a report that is set up is not sent for an hour that is past, and says when it comes next", async () => {
  await saveReport(services, DEMO_ACTOR, { id: null, version: 0, draft: DRAFT });
  await expect(saveReport(services, DEMO_ACTOR, { id: null, version: 0, draft: DRAFT })).rejects.toThrow(RefusedError);
  expect((await report()).next).toBe(Date.UTC(2027, 2, 11, 17) / 1000);
  expect(await issueDueReports(services, WORKER)).toEqual({ issues: 0 });
});

test("a recipient gets nothing but the question before they confirm; opening the link changes nothing, pressing does", async () => {
  const { id } = await report();
  await inviteRecipient(services, DEMO_ACTOR, { reportId: id, address: "m.skarv@skerrywick.example", scope: "" });
  await expect(
    inviteRecipient(services, DEMO_ACTOR, { reportId: id, address: "m.skarv@skerrywick.example", scope: "" }),
  ).rejects.toMatchObject({ fields: [{ path: "address" }] });
  await expect(
    inviteRecipient(services, DEMO_ACTOR, { reportId: id, address: "a@b.example\nBcc: c@d.example", scope: "owner ==" }),
  ).rejects.toMatchObject({ fields: [{ path: "address" }, { path: "scope" }] });
  await inviteRecipient(services, DEMO_ACTOR, { reportId: id, address: "odd@skerrywick.example", scope: "team = drauhgting" });
  const odd = (await report()).recipients.find(({ address }) => address.startsWith("odd"));
  expect(
    (await report()).recipients.map(({ matchesNothing }) => matchesNothing),
    "warned at once",
  ).toEqual((await report()).recipients.map(({ address }) => address === odd?.address));
  await dropRecipient(services, DEMO_ACTOR, odd?.id ?? 0);
  await expect(sendNow(services, DEMO_ACTOR, { reportId: id, recipientId: null })).rejects.toThrow("before confirming");
  expect(await deliver()).toEqual([]);
  const [asked] = (await sunkMails(services, DEMO_ACTOR)) ?? [];
  expect(asked).toMatchObject({ to: "m.skarv@skerrywick.example", subject: 'Do you want "Evening"?' });
  const token = tokenIn(asked?.text ?? "");
  expect(await viewLink(services, token, "confirm")).toMatchObject({ ok: true, address: "m.skarv@skerrywick.example" });
  expect((await report()).recipients[0]?.status).toBe("unconfirmed");
  await followLink(services, token, "confirm");
  expect((await report()).recipients[0]?.status).toBe("confirmed");
});

test("a link that was tampered with, is for something else, or has expired does nothing", async () => {
  const [asked] = (await sunkMails(services, DEMO_ACTOR)) ?? [];
  const token = tokenIn(asked?.text ?? "");
  const [body = "", mac = ""] = token.split(".");
  const other = Buffer.from(JSON.stringify({ what: "unsubscribe", recipient: 1, until: 9e9 })).toString("base64url");
  for (const wrong of [`${other}.${mac}`, `${body}.`, `${body}.${mac}x.y`, "", "a.b", body])
    expect(await followLink(services, wrong, "confirm"), wrong).toMatchObject({ ok: false });
  expect(await followLink(services, token, "unsubscribe")).toMatchObject({ ok: false });
  expect((await report()).recipients[0]?.status).toBe("confirmed");
});

test("at its local hour an issue goes out once, with figures, to each their scope, in both forms", async () => {
  const { id } = await report();
  await inviteRecipient(services, DEMO_ACTOR, {
    reportId: id,
    address: "k.lomvi@skerrywick.example",
    scope: "region = terai-1",
  });
  await deliver();
  const [asked] = (await sunkMails(services, DEMO_ACTOR)) ?? [];
  await followLink(services, tokenIn(asked?.text ?? ""), "confirm");
  await world.stepTo(Date.UTC(2027, 2, 11, 17, 0, 30) / 1000);
  await runRound(services, DEMO_ACTOR, "act");
  const both = await Promise.all([issueDueReports(services, WORKER), issueDueReports(services, WORKER)]);
  expect(both.map(({ issues }) => issues).sort()).toEqual([0, 1]);
  expect(await deliver()).toEqual([]);
  const mails = ((await sunkMails(services, DEMO_ACTOR)) ?? []).slice(0, 2);
  const whole = mails.find(({ to }) => to.startsWith("m.skarv"));
  const part = mails.find(({ to }) => to.startsWith("k.lomvi"));
  expect(whole?.subject).toMatch(/^Evening: \d{3} running.*strays$/);
  expect(whole?.html).toMatch(/\d+ serve nobody: <b>[\d .]+<\/b> EUR a month; \d+ run that nobody has thought of/);
  expect(whole?.text).toContain("fjord-1");
  expect(whole?.text.split("\n").every((line) => line.length <= 400)).toBe(true);
  expect(part?.text).toContain("for region = terai-1");
  expect(part?.text).not.toContain("fjord-1");
  // Every figure opens its machines, as of the instant the mail tells of, in the scope of who reads it.
  const at = encodeURIComponent("2027-03-11T17:00:30Z");
  expect(whole?.html).toMatch(new RegExp(`/\\?filter=owner\\+%3D\\+[^"]+&#38;at=${at}"`));
  expect(part?.html).toContain(`/?filter=region+%3D+terai-1&#38;at=${at}"`);
  expect(whole?.html).toMatch(/\/machines\/[^"/]+\/cost"/);
  expect(whole?.html).toContain("max-width:640px");
  expect(whole?.html).not.toMatch(/<img|<script|url\(/i);
  // What is at spot price, as Burn has it.
  const { spot } = await burnPage(services, DEMO_ACTOR, EVERYTHING);
  expect(whole?.text).toContain(
    `${spot?.count} at spot price: ${spot?.perHour} EUR an hour, ${spot?.fullPerHour} at full price, ${spot?.less} less.`,
  );
  expect(whole?.html).toContain(`/?filter=purchase+%3D+spot&#38;at=${at}"`);
  const total = /Yesterday, 2027-03-10 UTC, all of it cost <a [^>]*><b>([\d\u00a0.]+)/
    .exec(whole?.html ?? "")?.[1]
    ?.replaceAll("\u00a0", "");
  const { rows } = await services.pool.query<{ total: string }>(
    "select (micros_of(sum(total)) / 1e6)::numeric(20, 2)::text as total from spend_day where day = '2027-03-10'",
  );
  expect(total).toBe(rows[0]?.total);
});

test("the link in every issue ends it for its reader, and a mail program can do it by one press (RFC 8058)", async () => {
  const [line] = await mailList(services.pool, null);
  const mail = await openMail(services, DEMO_ACTOR, line?.id ?? 0);
  expect(mail.headers["List-Unsubscribe-Post"]).toBe("List-Unsubscribe=One-Click");
  expect(mail.headers["List-Unsubscribe"]).toContain("/api/mail/unsubscribe?token=");
  await followLink(services, tokenIn(mail.text), "unsubscribe");
  const gone = (await report()).recipients.find(({ id }) => id === mail.recipientId);
  expect(gone?.status).toBe("unsubscribed");
  await dropRecipient(services, DEMO_ACTOR, gone?.id ?? 0);
  expect(await viewLink(services, tokenIn(mail.text), "unsubscribe")).toMatchObject({ ok: false });
});

test("a report nothing runs for says so in one line, and is short", async () => {
  const { rows } = await services.pool.query("select name from resource where kind = 'machine' and state = 'stopped' limit 1");
  const scope = `name = ${rows[0].name}`;
  const { subject, text } = await previewReport(services, DEMO_ACTOR, { name: "Evening", zone: "UTC", scope });
  expect(subject).toBe("Evening: nothing runs");
  expect(text.split("\n").filter((line) => line.trim() !== "").length).toBeLessThanOrEqual(3);
  expect(text).toContain("Nothing runs, and nothing is left lying about.");
  await expect(previewReport(services, DEMO_ACTOR, { name: "E", zone: "UTC", scope: "name ==" })).rejects.toThrow(RefusedError);
});

test("a scope that matches nothing is no all-clear", async () => {
  const mail = await previewReport(services, DEMO_ACTOR, { name: "Evening", zone: "UTC", scope: "name = nobody" });
  expect(mail.subject).toBe("Evening: its scope matches nothing");
  for (const body of [mail.text, mail.html]) {
    expect(body).toContain("Nothing there is matches the scope of this report: name = nobody.");
    expect(body).not.toContain("Nothing runs");
  }
});

test("names from the clouds cannot put anything into a mail", async () => {
  await services.pool.query(`update resource set tags = tags || '{"owner": "<b onload=x>\\"&"}' where name = 'desk-osl-07'`);
  const { html } = await previewReport(services, DEMO_ACTOR, { name: "Evening", zone: "UTC", scope: "name = desk-osl-07" });
  expect(html).not.toContain("<b onload");
  expect(html).toContain("&#60;b onload=x&#62;&#34;&#38;");
});

test("a mail server that hangs or refuses is said with its mail, tried again, and given up in the end; then a person can try", async () => {
  const { id } = await report();
  const hanging = await listening((socket) => socket.on("data", () => {}));
  const refusing = await listening((socket) => socket.end("554 no\r\n"));
  const { pool } = services;
  const withServer = (port: number): Services => ({
    ...services,
    mailer: smtpMailer(`smtp://127.0.0.1:${port}`, "u@umbrik.example"),
  });
  await sendNow(services, DEMO_ACTOR, { reportId: id, recipientId: null });
  const [waiting] = await mailList(pool, id);
  const mail = waiting?.id ?? 0;
  await expect(sendMail(withServer(refusing.port), WORKER, { id: mail, isLast: false })).rejects.toThrow();
  expect(await openMail(services, DEMO_ACTOR, mail)).toMatchObject({ status: "waiting", attempts: 1 });
  const began = Date.now();
  await expect(sendMail(withServer(hanging.port), WORKER, { id: mail, isLast: true })).rejects.toThrow();
  expect(Date.now() - began).toBeLessThan(within(25));
  const failed = await openMail(services, DEMO_ACTOR, mail);
  expect(failed).toMatchObject({ status: "failed", attempts: 2 });
  expect(failed.lastError).toMatch(/timeout|greeting/i);
  await retryMail(services, DEMO_ACTOR, mail);
  expect(await deliver()).toEqual([]);
  expect((await openMail(services, DEMO_ACTOR, mail)).status).toBe("sent");
  await expect(retryMail(services, DEMO_ACTOR, mail)).rejects.toThrow("sent already");
  hanging.server.close();
  refusing.server.close();
});

test("a report that is removed is gone with its recipients, and what it sent stays to be read", async () => {
  const { id } = await report();
  await deleteReport(services, DEMO_ACTOR, id);
  await expect(deleteReport(services, DEMO_ACTOR, id)).rejects.toThrow(RefusedError);
  const { reports, mails } = await reportsView(services, DEMO_ACTOR);
  expect(reports).toEqual([]);
  expect(mails.length).toBeGreaterThan(3);
});

async function listening(onSocket: (socket: import("node:net").Socket) => void): Promise<{ server: Server; port: number }> {
  const server = createServer((socket) => {
    socket.on("error", () => {});
    onSocket(socket);
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return { server, port: (server.address() as { port: number }).port };
}
