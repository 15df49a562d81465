import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";
import type fc from "fast-check";
import { AppError } from "@/core/error";
import { delimiterOf, headerIssues, lineReader } from "@/core/focus";
import { readLineRows } from "@/core/hours";
import { readHolidays } from "@/core/ics";
import { parsePlanFile } from "@/core/plan";
import { matcher, parseSelector } from "@/core/selector";
import { httpProvider, seriesOf } from "@/provider";
import { inflated, OtlpError, readPush } from "@/provider/otlp";
import { readCsv } from "@/services/cost/prices/read-csv";
import { AT_ONCE_MAX } from "@/services/plans/parse-apart";
import { plainText } from "@/services/usage/arriving";
import { takeStretch } from "@/services/usage/take-stretch";
import { aMachine } from "../make";
import { pushBytes, pushJson } from "./good-pushes";
import { mutated, mutatedBytes } from "./mutated";

/** Something that reads what comes from outside. It has to give an answer, or throw what `isSaid` knows. */
export type Reader = Readonly<{
  name: string;
  input: fc.Arbitrary<unknown>;
  read: (input: unknown) => unknown;
  isSaid: (error: unknown) => boolean;
}>;

const isRefusal = (error: unknown) => error instanceof AppError;
const never = () => false;

type IsSaid = Reader["isSaid"];

function ofText(name: string, seeds: readonly string[], read: (text: string) => unknown, isSaid: IsSaid = never): Reader {
  return { name, input: mutated(seeds), read: (text) => read(text as string), isSaid };
}

function ofBytes(name: string, seeds: readonly Uint8Array[], read: (bytes: Buffer) => unknown, isSaid: IsSaid = never): Reader {
  return { name, input: mutatedBytes(seeds), read: (bytes) => read(bytes as Buffer), isSaid };
}

/** Has `work` get `body` as the answer of whatever it asks. */
async function answered<T>(body: string, work: () => Promise<T>): Promise<T> {
  const real = globalThis.fetch;
  globalThis.fetch = async () => new Response(body, { status: 200 });
  try {
    return await work();
  } finally {
    globalThis.fetch = real;
  }
}

const json = (value: unknown) => JSON.stringify(value);
const LISTED = {
  id: "m-1",
  name: "desk-osl-01",
  kind: "machine",
  region: "fjord-1",
  zone: "fjord-1a",
  size: "sloop-4",
  os: "linux",
  purchase: "firm",
  tags: { team: "learn" },
  container: { name: "lab", tags: {} },
  accountTags: {},
  state: "running",
  level: 1,
  target: 1,
  levelMax: 1,
  since: 1_803_888_000,
  runSince: null,
  cores: 4,
  memoryGib: 16,
  diskGib: 50,
  diskClass: "plain",
  addresses: 1,
  attachedTo: null,
};
const EVENT = { n: 1, at: 1_803_888_000, resource: "m-1", type: "started", state: "running", level: 1, note: "" };
const account = httpProvider({ name: "a", provider: "p", baseUrl: "http://provider.invalid", key: "k" });

const FOCUS_HEADER = "BillingCurrency,BilledCost,ChargeCategory,ChargePeriodStart,ChargePeriodEnd,ResourceId,Tags";
const FOCUS = `${FOCUS_HEADER}\nEUR,1.25,Usage,2027-03-01T00:00:00Z,2027-03-02T00:00:00Z,m-1,"{""team"":""learn""}"\nEUR,-2E-1,Credit,2027-03-01,2027-03-02,,\n`;

async function readFocus(bytes: Buffer): Promise<void> {
  let text = "";
  for await (const piece of plainText(
    (async function* () {
      yield bytes;
    })(),
  ))
    text += piece;
  const end = text.indexOf("\n");
  if (end < 0) return;
  const delimiter = delimiterOf(text.slice(0, end));
  const header = text.slice(0, end).split(delimiter);
  if (headerIssues(header).length > 0) return;
  const read = lineReader(header, "EUR");
  await takeStretch(text.slice(end + 1), { id: 1, read, delimiter, isLast: true, firstLine: 2, refusedBefore: 0 });
}

const ICS = `BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//harbour office//days//EN
BEGIN:VEVENT
UID:1@harbour
DTSTART;VALUE=DATE:20270517
SUMMARY:Founding day
RRULE:FREQ=YEARLY;COUNT=5
EXDATE;VALUE=DATE:20280517
END:VEVENT
BEGIN:VEVENT
UID:2@harbour
DTSTART;TZID=Europe/Oslo:20270101T000000
DTEND;TZID=Europe/Oslo:20270102T000000
SUMMARY:New year
END:VEVENT
END:VCALENDAR
`.replaceAll("\n", "\r\n");

const LINES = ["Mo-Fr 08:00-18:00", "Mo,We 22:00-06:00; PH off", "2027 Apr 01 off, Sa 10:00-12:00,13:00-15:00", "24/7"];
const SELECTORS = ["team=learn and not env=prod", "name~desk-* or (has(owner) and kind in (machine, group))", 'team!="a b"'];
const PRICE_COLUMNS = ["provider", "region", "item", "size", "rate"] as const;
const PRICES = "provider,region,item,size,rate,currency\nskerry,fjord-1,compute,sloop-4,0.125,EUR\n";

/** Everything that reads what others write. */
export const READERS: readonly Reader[] = [
  ofBytes(
    "OTLP, protobuf",
    pushBytes(),
    (body) => readPush(body, false),
    (error) => error instanceof OtlpError,
  ),
  ofBytes(
    "OTLP, gzip",
    pushBytes().map((bytes) => gzipSync(bytes)),
    (body) => readPush(inflated(body, "gzip"), false),
    (error) => error instanceof OtlpError,
  ),
  ofText(
    "OTLP, JSON",
    pushJson(),
    (text) => readPush(Buffer.from(text), true),
    (error) => error instanceof OtlpError,
  ),
  ofText(
    "an answer of a Prometheus",
    [
      json({
        status: "success",
        data: { resultType: "vector", result: [{ metric: { instance: "desk-osl-01:9100" }, value: [1.5, "0.25"] }] },
      }),
      json({ status: "success", data: { resultType: "matrix", result: [{ metric: {}, values: [[1, "NaN"]] }] } }),
      json({ status: "error", errorType: "bad_data", error: "parse error" }),
    ],
    (text) => seriesOf(text),
    isRefusal,
  ),
  ofText(
    "a provider's listing",
    [json({ resources: [LISTED, { ...LISTED, id: "m-2", state: "stopped", tags: {} }], next: null })],
    (text) => answered(text, () => account.listing.listResources()),
    isRefusal,
  ),
  ofText(
    "a provider's feed",
    [json({ events: [EVENT, { ...EVENT, n: 2 }], isMore: false })],
    (text) => answered(text, async () => account.feed?.eventsAfter(0)),
    isRefusal,
  ),
  ofText("a plan file", [readFileSync("demo/plan.yaml", "utf8").slice(0, 6_000), "a: &a [1]\nb: *a\n"], (text) =>
    parsePlanFile(text.slice(0, AT_ONCE_MAX)),
  ),
  ofText("a CSV of prices", [PRICES], (text) => readCsv(text, PRICE_COLUMNS, { currency: "EUR" }), isRefusal),
  ofText(
    "a FOCUS file",
    [FOCUS, FOCUS.replaceAll(",", ";"), FOCUS.replaceAll("\n", "\r\n")],
    (text) => readFocus(Buffer.from(text)),
    isRefusal,
  ),
  ofBytes("the bytes of a FOCUS file", [gzipSync(FOCUS), Buffer.from(`\ufeff${FOCUS}`, "utf16le")], readFocus, isRefusal),
  ofText("a calendar", [ICS], (text) => readHolidays(text, { zone: "Europe/Oslo", from: "2027-01-01", to: "2028-12-31" })),
  ofText("an hours line", LINES, (text) => readLineRows(text)),
  ofText(
    "a selector",
    SELECTORS,
    (text) => {
      const test = matcher(parseSelector(text));
      return test(aMachine({ name: "desk-osl-01", tags: { team: "learn", owner: "a".repeat(200) } }));
    },
    isRefusal,
  ),
];
