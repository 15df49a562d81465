import Papa from "papaparse";
import { focusCells, WRITTEN_COLUMNS, writtenCells } from "@/core/focus";
import { dayNumber, tryParseDate } from "@/core/time";
import { METER, maybeImport, usageLines } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { computedLines } from "./computed-lines";

export type ExportRequest = Readonly<{ importId?: number; from: string; to: string }>;
const DAYS_MAX = 400;

/**
 * UTC days, both included, as FOCUS CSV, piece by piece: what was reckoned, net and gross, commitments'
 * fees included, in version 1.1 of the specification; or the lines of an import as they came, in their order, under the header that they had; days are those that lines begin on.
 */
export async function* exportFocus(services: Services, actor: Actor, request: ExportRequest): AsyncGenerator<string> {
  authorise(actor, "look", ESTATE);
  const { importId = METER, from, to } = request;
  if (tryParseDate(from) === null || tryParseDate(to) === null || to < from)
    throw new RefusedError(
      "invalid",
      `From ${from} to ${to}: expected two dates such as 2027-03-01, the second not before the first.`,
    );
  if (dayNumber(to) - dayNumber(from) >= DAYS_MAX) throw new RefusedError("invalid", `At most ${DAYS_MAX} days at once.`);
  if (importId === METER) {
    yield `${Papa.unparse([WRITTEN_COLUMNS as readonly string[] as string[]])}\r\n`;
    for await (const lines of computedLines(services, { from, to })) {
      if (lines.length > 0) yield `${Papa.unparse(lines.map(writtenCells))}\r\n`;
    }
    return;
  }
  const header = (await maybeImport(services.pool, importId))?.header;
  if (!header) throw new RefusedError("not_found", `There is no import ${importId} with lines.`);
  yield `${Papa.unparse([[...header]])}\r\n`;
  for await (const lines of usageLines(services.pool, { importId, from, to })) {
    yield `${Papa.unparse(lines.map((line) => focusCells(line, header)))}\r\n`;
  }
}
