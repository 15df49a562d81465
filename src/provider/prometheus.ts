import { z } from "zod";
import { isPlain } from "@/core/text";
import { jsonOf } from "./bounded";
import { NoAnswerError, ProviderError } from "./port";
import { HereError, LateError, postForm } from "./reach";

const BYTES_MAX = 64_000_000;
/** The same whether nothing is there or something else is. */
const NO_PROMETHEUS = "no Prometheus answers there";

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

export type Patience = Readonly<{ patienceMs: number; allowsHere: boolean }>;

/**
 * Asks a Prometheus by its HTTP query API (v1). Throws a ProviderError that says what it answered, or a NoAnswerError. Of
 * an answer that is none of a Prometheus nothing is told: who sets a source up is not to find out what listens where.
 */
export function prometheusAt(baseUrl: string, { patienceMs, allowsHere }: Patience) {
  const base = baseUrl.replace(/\/+$/, "");
  async function ask(path: string, parameters: Readonly<Record<string, string>>): Promise<PromSeries[]> {
    let text: string;
    try {
      const asked = { form: parameters, withinMs: patienceMs, bytesMax: BYTES_MAX, allowsHere };
      text = await postForm(`${base}/api/v1/${path}`, asked);
    } catch (error) {
      if (error instanceof ProviderError) throw error;
      throw new NoAnswerError(reasonOf(error), { cause: error });
    }
    return seriesOf(text);
  }
  return {
    /** The value of each series at the server's now. */
    now: (query: string) => ask("query", { query }),
    /** Series over `[from, to]`, a sample each `stepS`. */
    range: (query: string, { from, to, stepS }: { from: number; to: number; stepS: number }) =>
      ask("query_range", { query, start: String(from), end: String(to), step: String(stepS) }),
  };
}

/** The series of an answer. Throws a ProviderError where it says what is wrong, or is no answer of a Prometheus. */
export function seriesOf(text: string): PromSeries[] {
  const body = jsonOf(text);
  const problem = problemShape.safeParse(body);
  if (problem.success) throw new ProviderError(`${problem.data.errorType}: ${problem.data.error.slice(0, 500)}`);
  const answer = answerShape.safeParse(body);
  if (!answer.success) throw new ProviderError(NO_PROMETHEUS);
  const { data } = answer.data;
  if (data.resultType === "vector")
    return data.result.map(({ metric, value }) => ({ labels: metric, samples: [numbers(value)] }));
  if (data.resultType === "matrix")
    return data.result.map(({ metric, values }) => ({ labels: metric, samples: values.map(numbers) }));
  throw new ProviderError(`the query gives a ${data.resultType}: it must give series, with labels`);
}

function numbers([at, text]: z.output<typeof sample>): readonly [number, number] {
  return [at, Number(text)];
}

/** Why there is no answer, without what was found there instead. */
function reasonOf(error: unknown): string {
  if (error instanceof HereError || error instanceof LateError) return error.message;
  const { code } = error as { code?: unknown };
  return code === "ENOTFOUND" || code === "EAI_AGAIN" ? "its name leads nowhere" : NO_PROMETHEUS;
}
