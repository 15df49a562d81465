import { z } from "zod";
import { isPlain } from "@/core/text";
import { boundedText, jsonOf } from "./bounded";
import { NoAnswerError, ProviderError } from "./port";

const BYTES_MAX = 64_000_000;

/** One series of an answer: its labels, and samples as instants in seconds and values. */
export type PromSeries = Readonly<{ labels: Readonly<Record<string, string>>; samples: readonly (readonly [number, number])[] }>;

const sample = z.tuple([z.number(), z.string()]);
/** Labels that no database keeps are left out; the series stands. */
const labels = z
  .record(z.string(), z.string())
  .transform((all) => Object.fromEntries(Object.entries(all).filter(([name, text]) => isPlain(name) && isPlain(text))));
const answerShape = z.looseObject({
  status: z.literal("success"),
  data: z.discriminatedUnion("resultType", [
    z.looseObject({ resultType: z.literal("vector"), result: z.array(z.looseObject({ metric: labels, value: sample })) }),
    z.looseObject({
      resultType: z.literal("matrix"),
      result: z.array(z.looseObject({ metric: labels, values: z.array(sample) })),
    }),
    z.looseObject({ resultType: z.literal("scalar"), result: z.unknown() }),
    z.looseObject({ resultType: z.literal("string"), result: z.unknown() }),
  ]),
});
const problemShape = z.looseObject({ status: z.literal("error"), errorType: z.string(), error: z.string() });

/** Asks a Prometheus by its HTTP query API (v1). Throws a ProviderError that says what it answered, or a NoAnswerError. */
export function prometheusAt(baseUrl: string, patienceMs: number) {
  const base = baseUrl.replace(/\/+$/, "");
  async function ask(path: string, parameters: Readonly<Record<string, string>>): Promise<PromSeries[]> {
    let status: number;
    let text: string;
    try {
      const response = await fetch(`${base}/api/v1/${path}`, {
        method: "POST",
        headers: { "content-type": "application/x-www-form-urlencoded" },
        body: new URLSearchParams(parameters),
        signal: AbortSignal.timeout(patienceMs),
        cache: "no-store",
        redirect: "manual",
      });
      status = response.status;
      text = await boundedText(response, BYTES_MAX);
    } catch (error) {
      if (error instanceof ProviderError) throw error;
      const why = error instanceof Error && error.name === "TimeoutError" ? `within ${patienceMs / 1000} s` : reasonOf(error);
      throw new NoAnswerError(`no answer: ${why}`, { cause: error });
    }
    const body = jsonOf(text);
    const problem = problemShape.safeParse(body);
    if (problem.success) throw new ProviderError(`${problem.data.errorType}: ${problem.data.error.slice(0, 500)}`);
    const answer = answerShape.safeParse(body);
    if (!answer.success) throw new ProviderError(`it answered ${status}, and not as a Prometheus does`);
    const { data } = answer.data;
    if (data.resultType === "vector")
      return data.result.map(({ metric, value }) => ({ labels: metric, samples: [numbers(value)] }));
    if (data.resultType === "matrix")
      return data.result.map(({ metric, values }) => ({ labels: metric, samples: values.map(numbers) }));
    throw new ProviderError(`the query gives a ${data.resultType}: it must give series, with labels`);
  }
  return {
    /** The value of each series at the server's now. */
    now: (query: string) => ask("query", { query }),
    /** Series over `[from, to]`, a sample each `stepS`. */
    range: (query: string, { from, to, stepS }: { from: number; to: number; stepS: number }) =>
      ask("query_range", { query, start: String(from), end: String(to), step: String(stepS) }),
  };
}

function numbers([at, text]: z.output<typeof sample>): readonly [number, number] {
  return [at, Number(text)];
}

function reasonOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error);
  return error.cause instanceof Error ? error.cause.message : error.message;
}
