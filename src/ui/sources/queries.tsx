"use client";
import { useState } from "react";
import type { SourceView, Tried } from "@/services/metrics";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import type { Naming } from "./naming-fields";

export type Query = SourceView["queries"][number];

export type QueriesProps = {
  url: string;
  naming: Naming;
  queries: readonly Query[];
  onChange: (queries: readonly Query[]) => void;
  at: (path: string) => string | null;
};

/** What a Prometheus is asked: of each metric its PromQL and the label that names the machine, tried with one press. */
export function Queries({ url, naming, queries, onChange, at }: QueriesProps) {
  const set = (i: number, query: Query) => onChange(queries.map((one, k) => (k === i ? query : one)));
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="font-semibold text-[13px]">What it is asked</legend>
      {queries.map((query, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name of their own while they are typed.
        <div key={i} className="flex flex-wrap items-end gap-2">
          <Field
            label="Metric"
            isLabelHidden={i > 0}
            className="w-[150px]"
            placeholder="cpu"
            value={query.metric}
            onChange={({ target }) => set(i, { ...query, metric: target.value })}
            error={at(`queries.${i}.metric`)}
          />
          <Field
            label="PromQL"
            isLabelHidden={i > 0}
            className="min-w-[300px] flex-1 font-mono"
            placeholder={'100 * (1 - avg by (instance) (rate(node_cpu_seconds_total{mode="idle"}[5m])))'}
            value={query.query}
            onChange={({ target }) => set(i, { ...query, query: target.value })}
            error={at(`queries.${i}.query`)}
          />
          <Field
            label="Label with the machine"
            isLabelHidden={i > 0}
            className="w-[150px]"
            value={query.label}
            onChange={({ target }) => set(i, { ...query, label: target.value })}
            error={at(`queries.${i}.label`)}
          />
          <TryQuery url={url} query={query} naming={naming} />
          {queries.length > 1 && (
            <Button
              look="quiet"
              aria-label={`Do not ask for ${query.metric || "this"}`}
              onClick={() => onChange(queries.filter((_, k) => k !== i))}
            >
              ✕
            </Button>
          )}
        </div>
      ))}
      <div>
        <Button
          look="quiet"
          onClick={() => onChange([...queries, { metric: "", query: "", label: queries.at(-1)?.label ?? "instance" }])}
        >
          + another metric
        </Button>
      </div>
    </fieldset>
  );
}

function TryQuery({ url, query, naming }: { url: string; query: Query; naming: Naming }) {
  const [isBusy, setIsBusy] = useState(false);
  const [tried, setTried] = useState<Tried | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  async function attempt() {
    setIsBusy(true);
    setProblem(null);
    try {
      setTried(await ask<Tried>("/api/sources/try", { method: "POST", body: { url: url.trim(), query, naming } }));
    } catch (error) {
      setTried(null);
      setProblem(error instanceof AnswerError ? error.message : String(error));
    } finally {
      setIsBusy(false);
    }
  }
  return (
    <>
      <Button disabled={isBusy || url.trim() === "" || query.query.trim() === ""} onClick={() => void attempt()}>
        {isBusy ? "Trying…" : "Try it"}
      </Button>
      {problem && (
        <div className="basis-full">
          <Notice kind="error">{problem}</Notice>
        </div>
      )}
      {tried && (
        <div className="basis-full" data-testid="tried">
          <Notice kind={tried.matched.length > 0 ? "fine" : "warning"}>
            {tried.series} series now: {tried.matched.length} name a machine, {tried.unmatched.length} do not.
            {tried.matched.length > 0 && (
              <p className="text-soft">
                {tried.matched
                  .slice(0, 6)
                  .map(({ identity, value }) => `${identity} ${short(value)}`)
                  .join(", ")}
                {tried.matched.length > 6 && " …"}
              </p>
            )}
            {tried.unmatched.slice(0, 6).map(({ identity, labels, why, nearly }) => (
              <p key={labels} className="text-soft">
                {identity ?? labels} {why}
                {nearly && `; nearly ${nearly}`}
              </p>
            ))}
          </Notice>
        </div>
      )}
    </>
  );
}

function short(value: number): string {
  return Number.isFinite(value) ? String(Number(value.toPrecision(3))) : "no number";
}
