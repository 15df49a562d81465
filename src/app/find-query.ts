import type { FindQuery } from "@/services/inventory";
import { instantOf } from "./burn-query";

type Params = Readonly<Record<string, string | string[] | undefined>>;

/** What is looked for, from its address. */
export function findQueryOf(params: Params, limit: number): FindQuery {
  const text = [params.find].flat()[0] ?? "";
  const from = [params.from].flat()[0] ?? "";
  return { text: text.slice(0, 2000), offset: /^\d{1,7}$/.test(from) ? Number(from) : 0, limit, at: instantOf(params) };
}
