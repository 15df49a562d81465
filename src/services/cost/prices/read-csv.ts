import Papa from "papaparse";
import { type FieldIssue, RefusedError } from "../../admin";

const LINES_MAX = 50_000;

type Rows<Column extends string> = { rows: { line: number; cells: Record<Column, string> }[]; issues: FieldIssue[] };

type Asked<Column> = Readonly<{
  currency: string;
  /** Columns that may be left out: empty in every row. */
  optional?: readonly Column[];
}>;

/** The rows of a CSV with these columns in any order; one of currency is checked and no more. Missing and unknown columns are refused at once. */
export function readCsv<Column extends string>(
  text: string,
  columns: readonly Column[],
  { currency, optional = [] }: Asked<Column>,
): Rows<Column> {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\uFEFF/, "").trimEnd(), { delimiter: "," });
  const [header = [], ...lines] = data.map((cells) => cells.map((cell) => cell.trim()));
  const missing = columns.filter((name) => !header.includes(name) && !optional.includes(name));
  const unknown = header.filter((name) => name !== "currency" && !columns.some((column) => column === name));
  if (missing.length > 0 || unknown.length > 0) {
    const parts = [
      missing.length > 0 ? `missing: ${missing.join(", ")}` : "",
      unknown.length > 0 ? `not known: ${unknown.join(", ")}` : "",
    ].filter(Boolean);
    throw new RefusedError("invalid", `Nothing was taken in. Columns ${parts.join("; ")}.`, [
      { path: "1", message: parts.join("; ") },
    ]);
  }
  if (lines.length > LINES_MAX) throw new RefusedError("invalid", `At most ${LINES_MAX} lines at once; nothing was taken in.`);
  const issues: FieldIssue[] = errors
    .filter(({ type }) => type === "Quotes")
    .map(({ row, message }) => ({ path: String((row ?? 0) + 1), message }));
  const rows = lines.flatMap((cells, i) => {
    const line = i + 2;
    if (cells.length !== header.length) {
      issues.push({ path: String(line), message: `${cells.length} cells, and the header has ${header.length}` });
      return [];
    }
    const at = header.indexOf("currency");
    if (at >= 0 && cells[at] !== currency) {
      issues.push({ path: String(line), message: `currency "${cells[at]}": expected ${currency}, amounts are never mixed` });
      return [];
    }
    const entries = columns.map((name) => [name, cells[header.indexOf(name)] ?? ""]);
    return [{ line, cells: Object.fromEntries(entries) as Record<Column, string> }];
  });
  return { rows, issues };
}

const ISSUES_SHOWN = 20;

/** Throws where a line is wrong: all are taken or none. */
export function refuseIssues(issues: readonly FieldIssue[]): void {
  if (issues.length === 0) return;
  const sorted = [...issues].sort((a, b) => Number(a.path) - Number(b.path)).slice(0, ISSUES_SHOWN);
  const lines = sorted.map(({ path, message }) => ({ path, message: `line ${path}: ${message}` }));
  throw new RefusedError(
    "invalid",
    `Nothing was taken in: ${issues.length} wrong ${issues.length === 1 ? "line" : "lines"}.`,
    lines,
  );
}
