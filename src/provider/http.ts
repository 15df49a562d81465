import type { z } from "zod";
import { capabilitiesSchema, providerIdOf, resourceKey } from "@/core/plan";
import type { Instant } from "@/core/time";
import { boundedText, jsonOf } from "./bounded";
import { eventsOf, listingReader } from "./listing";
import {
  type Feed,
  type Listing,
  type Members,
  type Metrics,
  NoAnswerError,
  type Power,
  ProviderError,
  type ProviderParts,
} from "./port";
import {
  commitmentsShape,
  eventPageShape,
  latestShape,
  madeShape,
  metricShape,
  pricesShape,
  refusalShape,
  resourcePageShape,
  usageShape,
} from "./shapes";

const TIMEOUT_MS = 10_000;
const PAGE = 500;
const PAGES_MAX = 2000;
const PAGE_BYTES_MAX = 64_000_000;
const ANSWER_BYTES_MAX = 100_000;
/** Of a refusal: may be different in a while. */
const RETRY_CODES = new Set(["throttled", "no_capacity", "busy", "broken"]);

export type HttpAccount = Readonly<{ name: string; provider: string; baseUrl: string; key: string }>;

/** An account over HTTP and JSON: it has every part. Nothing is asked any more once `signal` aborts. */
export function httpProvider({ name, provider, baseUrl, key }: HttpAccount, signal?: AbortSignal): ProviderParts {
  const headers = { authorization: `Bearer ${key}` };
  const within = () => AbortSignal.any([AbortSignal.timeout(TIMEOUT_MS), ...(signal ? [signal] : [])]);

  async function ask(path: string): Promise<{ response: Response; body: unknown }> {
    try {
      const response = await fetch(`${baseUrl}${path}`, { headers, signal: within(), cache: "no-store", redirect: "manual" });
      return { response, body: jsonOf(await boundedText(response, PAGE_BYTES_MAX)) };
    } catch (error) {
      if (error instanceof ProviderError) throw new ProviderError(`${provider}: ${error.message}`, { cause: error });
      throw new NoAnswerError(`no answer: ${messageOf(error)}`, { cause: error });
    }
  }

  type Posted =
    | Readonly<{ answer: Readonly<{ body: unknown }>; refusal: null }>
    | Readonly<{ answer: null; refusal: Readonly<{ kind: "retry" | "refused"; why: string; isFull: boolean }> }>;

  /** Asks for something to be done; the same key twice does it once. */
  async function post(resourceId: string, verb: string, body: unknown, once: string): Promise<Posted> {
    try {
      const response = await fetch(`${baseUrl}/v1/resources/${encodeURIComponent(providerIdOf(resourceId, name))}/${verb}`, {
        method: "POST",
        headers: { ...headers, "content-type": "application/json", "idempotency-key": once },
        body: JSON.stringify(body),
        signal: within(),
        redirect: "manual",
      });
      const text = boundedText(response, ANSWER_BYTES_MAX);
      // That it was accepted stands, whatever else is said.
      if (response.ok) return { answer: { body: jsonOf(await text.catch(() => "")) }, refusal: null };
      const refusal = refusalOf(jsonOf(await text));
      return { answer: null, refusal: { ...answerOf(response.status, refusal), isFull: refusal?.code === "no_capacity" } };
    } catch (error) {
      return { answer: null, refusal: { kind: "retry", why: `no answer: ${messageOf(error)}`, isFull: false } };
    }
  }

  const read = async <T extends z.ZodType>(path: string, shape: T): Promise<z.output<T>> => (await dated(path, shape)).data;

  /** What it answers, and what time it was by its clock then. */
  async function dated<T extends z.ZodType>(path: string, shape: T): Promise<{ data: z.output<T>; clock: Instant | null }> {
    for (let attempt = 0; ; attempt++) {
      const { response, body } = await ask(path);
      if (response.status === 429 && attempt < 5) {
        await wait(300 * 2 ** attempt);
        continue;
      }
      if (!response.ok)
        throw new ProviderError(`${provider} answered ${response.status}: ${refusalOf(body)?.message ?? "no reason given"}`);
      const result = shape.safeParse(body);
      if (result.success) return { data: result.data, clock: clockOf(response) };
      const issue = result.error.issues[0];
      throw new ProviderError(
        `${provider} answered something else than agreed at ${path}: ${issue?.path.join(".")}: ${issue?.message}`,
      );
    }
  }

  const listing: Listing = {
    describe: () => read("/v1/description", capabilitiesSchema),
    async listResources() {
      const reader = listingReader({ account: name, provider });
      const cursors = new Set<string>();
      let cursor: string | null = "0";
      let clock: Instant | null = null;
      while (cursor !== null) {
        if (cursors.size === PAGES_MAX) throw new ProviderError(`${provider} listed more than ${PAGES_MAX} pages`);
        if (cursors.has(cursor)) throw new ProviderError(`${provider} lists the page ${cursor.slice(0, 40)} twice`);
        cursors.add(cursor);
        const page: { data: z.output<typeof resourcePageShape>; clock: Instant | null } = await dated(
          `/v1/resources?cursor=${encodeURIComponent(cursor)}&limit=${PAGE}`,
          resourcePageShape,
        );
        reader.add(page.data.resources);
        cursor = page.data.next;
        clock = page.clock;
      }
      return { ...reader.listed(), clock };
    },
  };
  const feed: Feed = {
    async eventsAfter(n) {
      const { events, isMore } = await read(`/v1/events?after=${n}`, eventPageShape);
      return { ...eventsOf(events, { after: n, account: name }), isMore };
    },
  };
  const metrics: Metrics = {
    async metricDay(metric, day) {
      const { stepS, series } = await read(`/v1/metrics?metric=${encodeURIComponent(metric)}&day=${day}`, metricShape);
      return { stepS, series: series.map(({ resource, samples }) => ({ resourceId: resourceKey(name, resource), samples })) };
    },
    async metricAfter(metric, after) {
      const { from, stepS, series } = await read(`/v1/metrics?metric=${encodeURIComponent(metric)}&after=${after}`, latestShape);
      return series.flatMap(({ resource, samples }) => {
        const resourceId = resourceKey(name, resource);
        return samples.flatMap((value, i) =>
          typeof value === "number" ? [{ resourceId, metric, at: from + (i + 1) * stepS, stepS, value }] : [],
        );
      });
    },
  };
  const power: Power = {
    async act({ resourceId, verb, level, key: once }) {
      const { refusal } = await post(resourceId, verb, verb === "resize" ? { level } : {}, once);
      return refusal ? { kind: refusal.kind, why: refusal.why } : { kind: "accepted" };
    },
  };
  const members: Members = {
    async orderMember({ groupId, key: once, ...asked }) {
      const { answer, refusal } = await post(groupId, "order", asked, once);
      if (refusal) return { kind: refusal.isFull ? "full" : refusal.kind, why: refusal.why };
      const made = madeShape.safeParse(answer.body);
      return made.success
        ? { kind: "accepted", memberId: resourceKey(name, made.data.resource.id) }
        : { kind: "retry", why: "it accepted, and did not say whom it brought" };
    },
    async moveMember({ memberId, move, key: once }) {
      const { refusal } = await post(memberId, move, {}, once);
      return refusal ? { kind: refusal.isFull ? "full" : refusal.kind, why: refusal.why } : { kind: "accepted" };
    },
  };
  return {
    listing,
    power,
    feed,
    metrics,
    members,
    prices: { prices: (at) => read(`/v1/prices${at === undefined ? "" : `?day=${at}`}`, pricesShape) },
    commitments: { commitments: async () => (await read("/v1/commitments", commitmentsShape)).commitments },
    meter: {
      async usageDay(day) {
        const { lines } = await read(`/v1/usage?day=${day}`, usageShape);
        return lines.map(({ resource, ...line }) => ({ ...line, resourceId: resource }));
      },
    },
  };
}

/** Only a clear refusal is one: an agreed answer of a status that says the request was understood. */
function answerOf(status: number, refusal: Refusal | null): Readonly<{ kind: "retry" | "refused"; why: string }> {
  const why = refusal?.message ?? `it answered ${status}, and no reason`;
  const isClear = refusal !== null && status >= 400 && status < 500 && ![401, 408, 425, 429].includes(status);
  return { kind: isClear && !RETRY_CODES.has(refusal.code) ? "refused" : "retry", why };
}

function messageOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  return error.cause instanceof Error ? error.cause.message : error.message;
}

type Refusal = z.output<typeof refusalShape>["error"];

function refusalOf(body: unknown): Refusal | null {
  const parsed = refusalShape.safeParse(body);
  return parsed.success ? parsed.data.error : null;
}

function wait(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms));
}

/** The time by which an answer was made (RFC 9110, Date); null where it does not say, or was kept by somebody in between. */
function clockOf({ headers }: Response): Instant | null {
  const ms = headers.has("age") ? Number.NaN : Date.parse(headers.get("date") ?? "");
  return Number.isNaN(ms) ? null : Math.floor(ms / 1000);
}
