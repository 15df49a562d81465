import Papa from "papaparse";
import { type Sample, tryMicrosOfText } from "@/core/idle";
import { tryParseInstant } from "@/core/time";
import { readText } from "./files";
import { noAnswer } from "./problem";

/** What a file of samples holds: its metrics, and resource by resource, in the order in which they first occur, its samples. */
export type SamplesFile = Readonly<{ metrics: readonly string[]; byResource: readonly (readonly Sample[])[] }>;

const TOLD_MAX = 20;

/** Reads CSV with the header `[resource,]time,METRIC…`; an empty cell is a missing sample. Each thing wrong in it is a line. */
export function readSamples(path: string): SamplesFile {
  const { data } = Papa.parse<string[]>(readText(path).replace(/^\uFEFF/, ""), { skipEmptyLines: "greedy", delimiter: "," });
  const header = (data[0] ?? []).map((name) => name.trim());
  const isMany = header[0] === "resource";
  const metrics = header.slice(isMany ? 2 : 1);
  if (header[isMany ? 1 : 0] !== "time" || metrics.length === 0)
    noAnswer(`${path}:1: expected the header time,METRIC… or resource,time,METRIC…`);
  const twice = metrics.find((metric, i) => metrics.indexOf(metric) !== i || metric === "");
  if (twice !== undefined) noAnswer(`${path}:1: ${twice === "" ? "a column has no name" : `the column ${twice} is there twice`}`);
  const byResource = new Map<string, Sample[]>();
  const wrong: string[] = [];
  for (const [i, row] of data.slice(1).entries()) {
    const place = `${path}:${i + 2}`;
    if (row.length !== header.length) {
      wrong.push(`${place}: expected ${header.length} cells, there are ${row.length}`);
      continue;
    }
    const at = tryParseInstant((row[isMany ? 1 : 0] as string).trim());
    if (at === null) {
      wrong.push(`${place}: "${row[isMany ? 1 : 0]}" is not an instant: expected YYYY-MM-DDTHH:MM:SSZ`);
      continue;
    }
    const name = isMany ? (row[0] as string).trim() : "";
    const samples = byResource.get(name) ?? [];
    byResource.set(name, samples);
    metrics.forEach((metric, m) => {
      const text = (row[m + (isMany ? 2 : 1)] as string).trim();
      const value = text === "" ? null : tryMicrosOfText(text);
      if (text !== "" && value === null) wrong.push(`${place}: ${metric}: "${text}" is no finite number`);
      else samples.push({ at, metric, value });
    });
  }
  if (wrong.length > TOLD_MAX) wrong.splice(TOLD_MAX, wrong.length, `${path}: and ${wrong.length - TOLD_MAX} more like these`);
  if (wrong.length > 0) noAnswer(...wrong);
  if (byResource.size === 0) noAnswer(`${path}: there is no sample in it`);
  return { metrics, byResource: [...byResource.values()] };
}
