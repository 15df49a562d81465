import type { z } from "zod";
import { capabilitiesSchema, type ListedResource } from "@/core/plan";
import { type ActAnswer, ProviderError, type ProviderPort } from "./port";
import {
  commitmentsShape,
  eventPageShape,
  metricShape,
  pricesShape,
  refusalShape,
  resourceOf,
  resourcePageShape,
  usageShape,
} from "./shapes";

const TIMEOUT_MS = 10_000;
const PAGES_MAX = 2000;
/** Answers that may be different in a while. */
const RETRY_CODES = new Set(["throttled", "no_capacity", "busy", "broken"]);

export type HttpAccount = Readonly<{ provider: string; baseUrl: string; key: string }>;

/** The port over HTTP and JSON, for one account. */
export function httpProvider({ provider, baseUrl, key }: HttpAccount): ProviderPort {
  const headers = { authorization: `Bearer ${key}` };

  async function read<T extends z.ZodType>(path: string, shape: T): Promise<z.output<T>> {
    for (let attempt = 0; ; attempt++) {
      const response = await get(`${baseUrl}${path}`, headers);
      if (response.status === 429 && attempt < 5) {
        await wait(300 * 2 ** attempt);
        continue;
      }
      const body: unknown = await response.json().catch(() => null);
      if (!response.ok) throw new ProviderError(`${provider} answered ${response.status}: ${refusalOf(body).message}`);
      const result = shape.safeParse(body);
      if (!result.success) {
        const issue = result.error.issues[0];
        throw new ProviderError(
          `${provider} answered something else than agreed at ${path}: ${issue?.path.join(".")}: ${issue?.message}`,
        );
      }
      return result.data;
    }
  }

  return {
    describe: () => read("/v1/description", capabilitiesSchema),
    async listResources() {
      const all: ListedResource[] = [];
      let cursor: string | null = "0";
      for (let page = 0; cursor !== null; page++) {
        if (page === PAGES_MAX) throw new ProviderError(`${provider} listed more than ${PAGES_MAX} pages`);
        const { resources, next }: z.output<typeof resourcePageShape> = await read(
          `/v1/resources?cursor=${encodeURIComponent(cursor)}`,
          resourcePageShape,
        );
        for (const line of resources) all.push(resourceOf(line, provider));
        cursor = next;
      }
      return all;
    },
    async eventsAfter(n) {
      const { events, isMore } = await read(`/v1/events?after=${n}`, eventPageShape);
      return { events: events.map(({ resource, ...event }) => ({ ...event, resourceId: resource })), isMore };
    },
    prices: (at) => read(`/v1/prices${at === undefined ? "" : `?day=${at}`}`, pricesShape),
    commitments: async () => (await read("/v1/commitments", commitmentsShape)).commitments,
    async usageDay(day) {
      const { lines } = await read(`/v1/usage?day=${day}`, usageShape);
      return lines.map(({ resource, ...line }) => ({ ...line, resourceId: resource }));
    },
    async metricDay(metric, day) {
      const { stepS, series } = await read(`/v1/metrics?metric=${encodeURIComponent(metric)}&day=${day}`, metricShape);
      return { stepS, series: series.map(({ resource, samples }) => ({ resourceId: resource, samples })) };
    },
    async act({ resourceId, verb, level, key: once }): Promise<ActAnswer> {
      let response: Response;
      try {
        response = await fetch(`${baseUrl}/v1/resources/${encodeURIComponent(resourceId)}/${verb}`, {
          method: "POST",
          headers: { ...headers, "content-type": "application/json", "idempotency-key": once },
          body: JSON.stringify(verb === "resize" ? { level } : {}),
          signal: AbortSignal.timeout(TIMEOUT_MS),
        });
      } catch (error) {
        return { kind: "retry", why: `no answer: ${messageOf(error)}` };
      }
      if (response.ok) return { kind: "accepted" };
      const { code, message } = refusalOf(await response.json().catch(() => null));
      return { kind: RETRY_CODES.has(code) || response.status >= 500 ? "retry" : "refused", why: message };
    },
  };
}

async function get(url: string, headers: Record<string, string>): Promise<Response> {
  try {
    return await fetch(url, { headers, signal: AbortSignal.timeout(TIMEOUT_MS), cache: "no-store" });
  } catch (error) {
    throw new ProviderError(`no answer: ${messageOf(error)}`, { cause: error });
  }
}

function messageOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  return error.cause instanceof Error ? error.cause.message : error.message;
}

function refusalOf(body: unknown): { code: string; message: string } {
  const parsed = refusalShape.safeParse(body);
  return parsed.success ? parsed.data.error : { code: "", message: "no reason given" };
}

function wait(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms));
}
