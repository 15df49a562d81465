"use client";
import { useState } from "react";
import type { SourceView } from "@/services/metrics";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { SourceForm } from "./source-form";
import { SourceRow } from "./source-row";

export type SourcesProps = {
  sources: readonly SourceView[];
  accounts: readonly string[];
  /** Where the application is found: pushes go there. */
  url: string;
  now: number;
  zone: string;
};

/** Where metrics come from besides the providers. */
export function Sources({ sources, accounts, url, now, zone }: SourcesProps) {
  const [making, setMaking] = useState<"push" | "pull" | null>(null);
  const [key, setKey] = useState<string | null>(null);
  const strangers = sources.reduce((sum, { unmatched }) => sum + unmatched, 0);
  return (
    <div className="flex max-w-[1100px] flex-col gap-3 px-4 py-3">
      <h1 className="font-medium text-[20px] leading-7">{sentence(sources, strangers)}</h1>
      <p className="text-soft">
        What comes in here serves alarms, traces and sweeps as the providers' metrics do, and goes before them. OTLP is pushed to{" "}
        <code>{url}/v1/metrics</code> with a key; a Prometheus is asked by PromQL.
      </p>
      <div className="flex gap-2">
        <Button look={sources.length === 0 ? "strong" : "plain"} onClick={() => setMaking("push")}>
          New key for OTLP
        </Button>
        <Button onClick={() => setMaking("pull")}>New Prometheus</Button>
      </div>
      {key && (
        <Notice
          kind="fine"
          action={
            <Button look="quiet" onClick={() => setKey(null)}>
              I have it
            </Button>
          }
        >
          The key, shown this once. <code className="break-all">OTEL_EXPORTER_OTLP_METRICS_ENDPOINT={url}/v1/metrics</code>{" "}
          <code className="break-all">OTEL_EXPORTER_OTLP_HEADERS=authorization=Bearer%20{key}</code>
        </Notice>
      )}
      {making && (
        <SourceForm
          key={making}
          kind={making}
          accounts={accounts}
          onDone={(made) => {
            setMaking(null);
            setKey(made);
          }}
        />
      )}
      <ul>
        {sources.map((source) => (
          <SourceRow key={source.id} source={source} accounts={accounts} now={now} zone={zone} />
        ))}
      </ul>
    </div>
  );
}

function sentence(sources: readonly SourceView[], strangers: number): string {
  if (sources.length === 0) return "Metrics come from the providers alone.";
  const those = sources.length === 1 ? "1 source" : `${sources.length} sources`;
  const matched = sources.reduce((sum, { matched: own }) => sum + own, 0);
  const named = strangers === 0 ? "" : `; ${strangers} ${strangers === 1 ? "host names" : "hosts name"} no machine`;
  return `${those} of metrics besides the providers: ${matched} machines named${named}.`;
}
