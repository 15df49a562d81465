import { createReadStream, existsSync } from "node:fs";
import { basename } from "node:path";
import { DEMO_ACTOR, openServices, RefusedError, type Services, WORKER } from "@/services/admin";
import { spendNow as readSpendNow, spendOfDay } from "@/services/cost";
import { reportsView, sendNow } from "@/services/report";
import { exportFocus, openImport, receiveImport, runImport } from "@/services/usage";
import { readFlags } from "./flags";
import { noAnswer, wrongUse } from "./problem";
import { WRITTEN, writePiece } from "./text";

/** Runs a command that needs what is stored, and lets go of the database whatever comes of it. */
async function withServices<T>(work: (services: Services) => Promise<T>): Promise<T> {
  if (!process.env.DATABASE_URL) {
    return noAnswer("there is no database to ask: start the application here with `npm start`, or set DATABASE_URL");
  }
  const services = openServices(process.env);
  try {
    return await work(services);
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error;
    return noAnswer(error.message, ...error.fields.map(({ message }) => message));
  } finally {
    await services.pool.end();
  }
}

/** `spend now` */
export function spendNow(args: readonly string[]): Promise<unknown> {
  readFlags(args, {});
  return withServices((services) => readSpendNow(services, DEMO_ACTOR));
}

/** `spend day --date YYYY-MM-DD` */
export function spendDay(args: readonly string[]): Promise<unknown> {
  const { date } = readFlags(args, { date: "required" });
  return withServices((services) => spendOfDay(services, DEMO_ACTOR, date));
}

const REFUSALS = 20;

/** `focus import FILE`: takes the file in while one waits. */
export function focusImport([path, ...args]: readonly string[]): Promise<unknown> {
  if (path === undefined || path.startsWith("--")) wrongUse("a file is missing: it comes before the flags");
  readFlags(args, {});
  if (!existsSync(path)) wrongUse(`${path}: no such file`);
  return withServices(async (services) => {
    const id = await receiveImport(services, DEMO_ACTOR, {
      fileName: basename(path),
      bytes: createReadStream(path),
      isQueued: false,
    });
    const done = await runImport(services, WORKER, id);
    if (done.status === "refused") return noAnswer(`${path}: ${done.error}`);
    const { refusals } = await openImport(services, DEMO_ACTOR, id);
    const { status, linesTaken, linesRefused, billed, currency, firstDay, lastDay } = done;
    return {
      import: id,
      status,
      linesTaken,
      linesRefused,
      billed,
      currency,
      firstDay,
      lastDay,
      refusals: refusals.slice(0, REFUSALS),
    };
  });
}

/** `focus export --from D --to D [--import N]`: the file itself, not JSON. */
export function focusExport(args: readonly string[]): Promise<unknown> {
  const flags = readFlags(args, { from: "required", to: "required", import: "optional" });
  if (flags.import !== undefined && !/^\d{1,9}$/.test(flags.import)) wrongUse(`--import "${flags.import}": expected a number`);
  return withServices(async (services) => {
    const request = { from: flags.from, to: flags.to, importId: Number(flags.import ?? 0) };
    for await (const piece of exportFocus(services, DEMO_ACTOR, request)) await writePiece(piece);
    return WRITTEN;
  });
}

/** `report send --report NAME [--to ADDRESS]`: to those who confirmed. */
export function reportSend(args: readonly string[]): Promise<unknown> {
  const flags = readFlags(args, { report: "required", to: "optional" });
  return withServices(async (services) => {
    const { reports } = await reportsView(services, DEMO_ACTOR);
    const report = reports.find(({ name }) => name === flags.report);
    if (!report)
      return noAnswer(
        `no report is named "${flags.report}"; there is ${reports.map(({ name }) => `"${name}"`).join(", ") || "none"}`,
      );
    const recipient = flags.to === undefined ? null : report.recipients.find(({ address }) => address === flags.to);
    if (recipient === undefined) return noAnswer(`${flags.to} does not get "${report.name}"`);
    return sendNow(services, DEMO_ACTOR, { reportId: report.id, recipientId: recipient?.id ?? null });
  });
}
