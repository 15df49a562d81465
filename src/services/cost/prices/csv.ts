import Papa from "papaparse";
import { PRICE_ITEMS, type PricePoint, tryParseHourRate } from "@/core/pricing";
import { DAY_S, type Instant, tryParseDate, tryParseInstant, utcDate } from "@/core/time";
import { notePriceImport, overridePrices, startOfPriceImport, type TakenBack, undoPriceImport } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../../admin";
import { byProvider, currencyOf, loadSnapshot } from "../../inventory";
import { changeFrom } from "./change-from";
import { readCsv, refuseIssues } from "./read-csv";
import { keyOf, type PriceRow, partsOf, priceBookView } from "./view";

const PRICE_COLUMNS = [
  "provider",
  "region",
  "item",
  "size",
  "os",
  "purchase",
  "class",
  "zone",
  "rate",
  "cores_min",
  "valid_from",
] as const;

/** The price book as CSV: what counts at an instant. */
export async function pricesCsv(services: Services, actor: Actor, at: Instant | null): Promise<{ file: string; text: string }> {
  authorise(actor, "look", ESTATE);
  const view = await priceBookView(services, actor, at);
  const rows = view.rows.map(({ of, rate, since, coresMin }) => {
    const { provider, region, item, size, os, purchase, class: diskClass, zone } = of;
    return [provider, region, item, size, os, purchase, diskClass, zone, rate, String(coresMin), utcDate(since), view.currency];
  });
  const text = Papa.unparse([[...PRICE_COLUMNS, "currency"], ...rows], { escapeFormulae: true });
  return { file: `umbrik-prices-${utcDate(view.at)}.csv`, text: `${text}\r\n` };
}

/** A line that says something else than what counts on its day; `from` null where nothing does. */
export type PriceDifference = Readonly<{ what: string; day: string; from: string | null; to: string }>;

/** What a file comes to: the lines that say something new, and how many say what counts already. */
export type PricesTaken = Readonly<{
  lines: number;
  same: number;
  /** How many of the lines say that something costs nothing. */
  free: number;
  differences: readonly PriceDifference[];
  /** What it is taken back by; null where nothing was taken in. */
  importId: number | null;
}>;
const DIFFERENCES_SHOWN = 200;

/**
 * Takes prices in as CSV: all lines or none, every wrong one named. A line that says what counts on its day already
 * sets nothing by hand. `isTrial`: nothing is taken in, it only says what would be.
 */
export async function importPrices(
  services: Services,
  actor: Actor,
  { text, isTrial = false }: { text: string; isTrial?: boolean | undefined },
): Promise<PricesTaken> {
  authorise(actor, "set prices", ESTATE);
  const snapshot = await loadSnapshot(services);
  const { rows, issues } = readCsv(text, PRICE_COLUMNS, { currency: currencyOf(snapshot), optional: ["zone"] });
  const known = byProvider(snapshot);
  const points = rows.flatMap(({ line, cells }): PricePoint[] => {
    const wrong = (message: string) => {
      issues.push({ path: String(line), message });
      return [];
    };
    const own = known.get(cells.provider);
    if (!own) return wrong(`provider "${cells.provider}": expected ${[...known.keys()].join(" or ")}`);
    const within = own.regions.find(({ name }) => name === cells.region);
    if (!within) return wrong(`region "${cells.region}" is none of ${cells.provider}`);
    if (cells.zone !== "" && !within.zones.includes(cells.zone)) return wrong(`zone "${cells.zone}" is none of ${cells.region}`);
    const item = PRICE_ITEMS.find((one) => one === cells.item);
    if (!item) return wrong(`item "${cells.item}": expected one of ${PRICE_ITEMS.join(", ")}`);
    if (tryParseHourRate(cells.rate) === null)
      return wrong(`rate "${cells.rate}": expected a decimal from 0 with at most nine decimals`);
    const coresMin = cells.cores_min === "" ? "0" : cells.cores_min;
    if (!/^\d{1,6}$/.test(coresMin)) return wrong(`cores_min "${cells.cores_min}": expected a whole number`);
    const validFrom = dayOrInstant(cells.valid_from);
    if (validFrom === null) return wrong(`valid_from "${cells.valid_from}": expected a date such as 2027-03-01`);
    const { provider, region, zone, size, os, purchase, rate } = cells;
    return [
      {
        provider,
        region,
        item,
        size,
        os,
        purchase,
        class: cells.class,
        zone,
        rate,
        coresMin: Number(coresMin),
        validFrom,
        source: "hand",
        person: actor.name,
      },
    ];
  });
  refuseIssues(issues);
  const news = await newsOf(services, actor, points);
  let importId: number | null = null;
  if (news.length > 0 && !isTrial) {
    const first = news.reduce((earliest, { point }) => Math.min(earliest, point.validFrom), Number.POSITIVE_INFINITY);
    const { now } = await services.clock.read();
    const taken = news.map(({ point }) => point);
    importId = await changeFrom(services, actor, {
      day: utcDate(first),
      cause: `${news.length} prices taken in from a file`,
      make: async (tx) => {
        const id = await notePriceImport(tx, taken, { person: actor.name, at: now });
        await overridePrices(tx, taken);
        return id;
      },
    });
  }
  const differences = news.slice(0, DIFFERENCES_SHOWN).map(({ point, from }) => ({
    what: partsOf(point).filter(Boolean).join(" "),
    day: utcDate(point.validFrom),
    from,
    to: point.rate ?? "",
  }));
  const free = news.filter(({ point }) => Number(point.rate) === 0).length;
  return { lines: news.length, same: points.length - news.length, free, differences, importId };
}

/** Takes a file of prices back as one. Throws a RefusedError where that was done, or there is none. */
export async function undoPrices(services: Services, actor: Actor, id: number): Promise<TakenBack> {
  authorise(actor, "set prices", ESTATE);
  const gone = () => new RefusedError("not_found", "That file was taken back already.");
  const first = await startOfPriceImport(services.pool, id);
  if (first === null) throw gone();
  const { now } = await services.clock.read();
  const back = await changeFrom(services, actor, {
    day: utcDate(first),
    cause: "prices from a file taken back",
    make: (tx) => undoPriceImport(tx, id, { person: actor.name, at: now }),
  });
  if (!back) throw gone();
  return back;
}

type News = Readonly<{ point: PricePoint; from: string | null }>;

/** Those that differ from what counts by the end of the day they begin on. */
async function newsOf(services: Services, actor: Actor, points: readonly PricePoint[]): Promise<News[]> {
  const views = new Map<Instant, Promise<ReadonlyMap<string, PriceRow>>>();
  const countingOn = (validFrom: Instant) => {
    const end = (Math.floor(validFrom / DAY_S) + 1) * DAY_S - 1;
    const known =
      views.get(end) ?? priceBookView(services, actor, end).then(({ rows }) => new Map(rows.map((row) => [row.key, row])));
    views.set(end, known);
    return known;
  };
  const news: News[] = [];
  for (const point of points) {
    const row = (await countingOn(point.validFrom)).get(keyOf(point));
    const isSame =
      row !== undefined && tryParseHourRate(row.rate) === tryParseHourRate(point.rate ?? "") && row.coresMin === point.coresMin;
    if (!isSame) news.push({ point, from: row?.rate ?? null });
  }
  return news;
}

function dayOrInstant(text: string): Instant | null {
  const day = tryParseDate(text);
  return day === null ? tryParseInstant(text) : day * DAY_S;
}
