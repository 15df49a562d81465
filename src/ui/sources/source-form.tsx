"use client";
import { useState } from "react";
import type { SourceView } from "@/services/metrics";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { useAttempt } from "../kit/use-attempt";
import { type Naming, NamingFields } from "./naming-fields";
import { Queries, type Query } from "./queries";
import { TryNaming } from "./try-naming";

export type SourceFormProps = {
  kind: "push" | "pull";
  /** Set where one that there is is changed. */
  source?: SourceView;
  accounts: readonly string[];
  onDone: (key: string | null) => void;
};

const STEPS = [10, 15, 30, 60, 120, 300, 600].map((s) => ({ value: String(s), label: s < 60 ? `${s} s` : `${s / 60} min` }));
const ANEW: Naming = { attribute: "host.name", names: "name", tag: null, account: null, domain: null };

/** A source of metrics, made or changed. What was typed stays until it is taken. */
export function SourceForm({ kind, source, accounts, onDone }: SourceFormProps) {
  const { run, isBusy, problem, at } = useAttempt();
  const [name, setName] = useState(source?.name ?? "");
  const [url, setUrl] = useState(source?.url ?? "");
  const [naming, setNaming] = useState<Naming>(source?.naming ?? ANEW);
  const [queries, setQueries] = useState<readonly Query[]>(source?.queries ?? [{ metric: "cpu", query: "", label: "instance" }]);
  const [stepS, setStepS] = useState(source?.stepS ?? 60);
  const isPull = kind === "pull";
  const body = { name, url: isPull ? url.trim() : null, queries: isPull ? queries : [], naming, stepS };
  return (
    <form
      aria-label={source ? `Change ${source.name}` : isPull ? "New Prometheus" : "New key for OTLP"}
      className="flex flex-col gap-2 border-lines border-l-4 py-1 pl-3"
      onSubmit={(event) => {
        event.preventDefault();
        void run(async () => {
          if (source) {
            await ask(`/api/sources/${source.id}`, { method: "PUT", body });
            onDone(null);
          } else onDone((await ask<{ key: string | null }>("/api/sources", { method: "POST", body })).key);
        });
      }}
    >
      <div className="flex flex-wrap items-end gap-2">
        <Field
          label="Name"
          className="w-[200px]"
          value={name}
          onChange={({ target }) => setName(target.value)}
          error={at("name")}
        />
        {isPull && (
          <Field
            label="Address of the Prometheus"
            className="w-[300px]"
            placeholder="http://prometheus.example:9090"
            value={url}
            onChange={({ target }) => setUrl(target.value)}
            error={at("url")}
          />
        )}
        <Choice
          label="A sample each"
          options={STEPS}
          value={String(stepS)}
          onChange={({ target }) => setStepS(Number(target.value))}
        />
        <NamingFields naming={naming} onChange={setNaming} hasAttribute={!isPull} accounts={accounts} at={at} />
      </div>
      {isPull && <Queries url={url} naming={naming} queries={queries} onChange={setQueries} at={at} />}
      {source?.kind === "push" && <TryNaming id={source.id} naming={naming} />}
      {problem && problem.fields.length === 0 && <Notice kind="error">{problem.message}</Notice>}
      {at("queries") && <Notice kind="error">{at("queries")}</Notice>}
      <div className="flex gap-2">
        <Button type="submit" look={source ? "plain" : "strong"} disabled={isBusy}>
          {source ? "Keep" : isPull ? "Ask this Prometheus" : "Make a key"}
        </Button>
        <Button look="quiet" onClick={() => onDone(null)}>
          Leave it
        </Button>
      </div>
    </form>
  );
}
