import { createServer, type IncomingMessage, type Server, type ServerResponse } from "node:http";
import { COMMITMENTS } from "../../demo/leftovers";
import { PROVIDERS, type ProviderData } from "../../demo/providers";
import type { Keeper } from "../keeper";
import { sunkMail } from "../mail-sink";
import openapi from "../openapi.json";
import type { MemberOrder } from "../world/members";
import { linesOfDay, linesOfLoose } from "../world/meter";
import { has, METRICS, type Metric, STEP, samplesOver } from "../world/metrics";
import { priceList } from "../world/prices";
import { Refusal } from "../world/refusal";
import { DAY, present, type Unit, type World } from "../world/types";
import { carryOut, type Verb } from "../world/verbs";
import { readJson, send } from "./answer";
import { type Holder, holderOf } from "./keys";
import { description, looseView, unitView } from "./views";

const RATES = [0, 1, 60, 3600];
const PAGE = 100;
const PAGE_MAX = 500;

/** The clouds over HTTP. Every request first lets the world catch up with its clock. */
export function standinServer(keeper: Keeper, mailFolder: string): Server {
  return createServer((request, response) => {
    handle({ keeper, mailFolder }, request, response).catch((error: unknown) => {
      if (error instanceof Refusal) {
        const headers: Record<string, string> = error.status === 429 ? { "retry-after": "1" } : {};
        send(response, error.status, { error: { code: error.code, message: error.message } }, headers);
        return;
      }
      console.error(error);
      send(response, 500, { error: { code: "broken", message: "the stand-in broke" } });
    });
  });
}

type House = Readonly<{ keeper: Keeper; mailFolder: string }>;

async function handle({ keeper, mailFolder }: House, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const url = new URL(request.url ?? "/", "http://standin");
  const [first, ...rest] = url.pathname.split("/").filter(Boolean);
  if (first === "openapi.json") return send(response, 200, openapi);
  if (first === "mail") return sunkMail(mailFolder, response, rest[0]);
  if (first === "clock") return clock(keeper, request, { response, part: rest[0] });
  if (first === "outages" && request.method === "POST") return outage(keeper, request, response);
  const provider = PROVIDERS.find(({ name }) => name === first);
  if (!provider || rest[0] !== "v1") throw new Refusal(404, "not_found", `nothing at ${url.pathname}`);
  keeper.catchUp();
  // Its own clock, not the machine's.
  response.setHeader("date", new Date(keeper.now() * 1000).toUTCString());
  if (request.method === "POST") return act(keeper, request, { response, provider, path: rest.slice(1) });
  return look(keeper, request, { response, provider, what: rest[1] ?? "", query: url.searchParams });
}

async function clock(
  keeper: Keeper,
  request: IncomingMessage,
  { response, part }: { response: ServerResponse; part: string | undefined },
): Promise<void> {
  if (request.method === "POST") {
    const body = await readJson(request);
    if (part === "step") {
      const to = body.to;
      if (typeof to !== "number" || !Number.isInteger(to))
        throw new Refusal(400, "bad_to", "to: expected whole seconds since 1970");
      if (to < keeper.now()) throw new Refusal(400, "backwards", "the clock never goes back");
      keeper.stepTo(to);
    } else if (part === "wait") {
      const { at } = body;
      if (at !== null && (typeof at !== "number" || !Number.isInteger(at)))
        throw new Refusal(400, "bad_at", "at: expected whole seconds since 1970, or null");
      keeper.setWaitAt(at);
    } else {
      if (!RATES.includes(body.rate as number)) throw new Refusal(400, "bad_rate", `rate: expected one of ${RATES.join(", ")}`);
      keeper.setRate(body.rate as number);
    }
  }
  send(response, 200, { now: keeper.now(), rate: keeper.world.clock.rate, waitAt: keeper.waitAt, bornAt: keeper.world.bornAt });
}

/** For trying out bad days: an account that does not answer, answers with errors, or has no capacity, for some seconds. */
async function outage(keeper: Keeper, request: IncomingMessage, response: ServerResponse): Promise<void> {
  const { account, seconds, kind } = await readJson(request);
  const isKind = kind === "silent" || kind === "error" || kind === "no capacity";
  if (typeof account !== "string" || typeof seconds !== "number" || !isKind)
    throw new Refusal(400, "bad_outage", "expected account, seconds and kind");
  keeper.world.outages.push({ account, kind, until: keeper.now() + seconds });
  keeper.changed();
  send(response, 200, {});
}

async function suffer(keeper: Keeper, holder: Holder, response: ServerResponse): Promise<boolean> {
  const outage = keeper.world.outages.find(
    ({ account, until, kind }) => account === holder.account && until > keeper.now() && kind !== "no capacity",
  );
  if (!outage) return false;
  if (outage.kind === "error") throw new Refusal(503, "broken", "the service is having a bad day");
  response.destroy();
  return true;
}

type Look = { response: ServerResponse; provider: ProviderData; what: string; query: URLSearchParams };

async function look(keeper: Keeper, request: IncomingMessage, { response, provider, what, query }: Look): Promise<void> {
  const { world } = keeper;
  if (what === "description") return send(response, 200, description(provider));
  const holder = holderOf(request, provider.name, "list");
  if (await suffer(keeper, holder, response)) return;
  const number = (name: string, fallback: number) => {
    const text = query.get(name);
    if (text === null) return fallback;
    if (!/^\d{1,12}$/.test(text)) throw new Refusal(400, `bad_${name}`, `${name}: expected a whole number`);
    return Number(text);
  };
  const day = () => Math.floor(number("day", keeper.now()) / DAY) * DAY;
  const units = unitsOf(world, holder.account);
  switch (what) {
    case "resources": {
      const loose = world.loose.filter(({ account }) => account === holder.account);
      const from = number("cursor", 0);
      const to = from + Math.min(PAGE_MAX, number("limit", PAGE));
      const there = units.every(isListed) ? units : units.filter(isListed);
      const total = there.length + loose.length;
      const resources = [
        ...there.slice(from, to).map(unitView),
        ...loose.slice(Math.max(0, from - there.length), Math.max(0, to - there.length)).map(looseView),
      ];
      return send(response, 200, { resources, next: to < total ? String(to) : null, total });
    }
    case "prices":
      return send(response, 200, { currency: provider.currency, from: day(), prices: priceList(world.seed, provider, day()) });
    case "commitments":
      return send(response, 200, { commitments: COMMITMENTS.filter(({ account }) => account === holder.account) });
    case "events": {
      const after = number("after", 0);
      const limit = Math.min(1000, number("limit", 500));
      const mine = world.events.filter(({ n, account }) => n > after && account === holder.account);
      return send(response, 200, { events: mine.slice(0, limit), isMore: mine.length > limit });
    }
    case "metrics": {
      const metric = query.get("metric") ?? "";
      if (!(METRICS as readonly string[]).includes(metric))
        throw new Refusal(400, "bad_metric", `metric: expected one of ${METRICS.join(", ")}`);
      // A whole day, or what came after an instant; never more than a day, never what is to come.
      const from = query.has("after") ? Math.floor(number("after", 0) / STEP) * STEP : day();
      const to = Math.min(from + DAY, keeper.now());
      const series = units
        .filter((unit) => has(unit, metric as Metric))
        .map((unit) => ({ resource: unit.id, samples: samplesOver(world.seed, unit, { metric: metric as Metric, from, to }) }));
      return send(response, 200, { from, stepS: STEP, series });
    }
    case "usage": {
      const window = { day: day(), until: keeper.now() };
      const loose = world.loose
        .filter(({ account }) => account === holder.account)
        .flatMap((thing) => linesOfLoose(thing, window));
      return send(response, 200, { lines: [...units.flatMap((unit) => linesOfDay(world.seed, unit, window)), ...loose] });
    }
    default:
      throw new Refusal(404, "not_found", `nothing named ${what}`);
  }
}

type Grouped = { length: number; last: Unit | undefined; byAccount: Map<string, Unit[]> };
const groups = new WeakMap<World, Grouped>();

/** What is listed: a member that is gone is in the feed and on the bill, and nowhere else. */
function isListed(unit: Unit): boolean {
  return unit.kind !== "member" || present(unit).state !== "gone";
}

/** An account's own, grouped anew only where something was added or taken out: a large one is read in many pages. */
function unitsOf(world: World, account: string): readonly Unit[] {
  const { length } = world.units;
  const last = world.units[length - 1];
  let grouped = groups.get(world);
  if (grouped?.length !== length || grouped.last !== last) {
    grouped = { length, last, byAccount: new Map() };
    for (const unit of world.units) {
      const own = grouped.byAccount.get(unit.account);
      if (own) own.push(unit);
      else grouped.byAccount.set(unit.account, [unit]);
    }
    groups.set(world, grouped);
  }
  return grouped.byAccount.get(account) ?? [];
}

const VERBS: readonly Verb[] = ["start", "stop", "hibernate", "resize", "order", "remove"];

function orderOf({ size, zone, purchase, keepsDisks }: Record<string, unknown>): MemberOrder {
  if (typeof size !== "string" || typeof zone !== "string" || (purchase !== "firm" && purchase !== "spot"))
    throw new Refusal(400, "bad_order", "expected size, zone and purchase (firm or spot)");
  return { size, zone, purchase, keepsDisks: keepsDisks === true };
}

type Act = { response: ServerResponse; provider: ProviderData; path: readonly string[] };

async function act(keeper: Keeper, request: IncomingMessage, { response, provider, path }: Act): Promise<void> {
  const [what, id, verb] = path;
  if (what !== "resources" || !id || !VERBS.includes(verb as Verb))
    throw new Refusal(404, "not_found", `expected resources/ID/${VERBS.join(", ")}`);
  // Whoever may set a group's level may say of what.
  const holder = holderOf(request, provider.name, verb === "order" || verb === "remove" ? "resize" : (verb as Verb));
  if (await suffer(keeper, holder, response)) return;
  const key = String(request.headers["idempotency-key"] ?? "");
  if (key === "") throw new Refusal(400, "no_key", "an Idempotency-Key header is required");
  const body = await readJson(request);
  const used = keeper.world.answers[`${holder.account} ${key}`];
  if (used) return send(response, used.status, used.body);
  const unit = keeper.world.units.find((candidate) => candidate.id === id && candidate.account === holder.account);
  if (!unit) throw new Refusal(404, "not_found", `no resource ${id} in ${holder.account}`);
  const made = carryOut(keeper.world, unit, {
    verb: verb as Verb,
    level: typeof body.level === "number" ? body.level : null,
    now: keeper.now(),
    member: verb === "order" ? orderOf(body) : null,
  });
  const answer = { resource: unitView(made ?? unit) };
  keeper.world.answers[`${holder.account} ${key}`] = { status: 202, body: answer };
  keeper.changed();
  send(response, 202, answer);
}
