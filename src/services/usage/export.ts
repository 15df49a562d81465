import Papa from "papaparse";
import { focusCells, focusHeader } from "@/core/focus";
import { tryParseDate } from "@/core/time";
import { METER, usageLines } from "@/store";
import { authorise, type Person, RefusedError, type Services } from "../admin";

export type ExportRequest = Readonly<{ importId?: number; from: string; to: string }>;

/** Usage lines over UTC days, both included, as FOCUS CSV, piece by piece. The meter's unless an import is named. */
export async function* exportFocus(services: Services, person: Person, request: ExportRequest): AsyncGenerator<string> {
  authorise(person, "look");
  const { importId = METER, from, to } = request;
  if (tryParseDate(from) === null || tryParseDate(to) === null || to < from)
    throw new RefusedError(
      "invalid",
      `From ${from} to ${to}: expected two dates such as 2027-03-01, the second not before the first.`,
    );
  const header = focusHeader();
  yield `${Papa.unparse([header as string[]])}\r\n`;
  for await (const lines of usageLines(services.pool, { importId, from, to })) {
    yield `${Papa.unparse(lines.map((line) => focusCells(line, header)))}\r\n`;
  }
}
