"use client";
import { useId, useState } from "react";
import type { Condition } from "@/core/idle";
import { WORD, WordChoice } from "../kit/word-choice";
import { Amount } from "./amount";
import { useMetricNames } from "./use-metric-names";

const STATISTICS = [
  { value: "mean", label: "the mean" },
  { value: "max", label: "the highest" },
  { value: "p95", label: "the 95th percentile" },
];
const OPS = [
  { value: "<", label: "below" },
  { value: "<=", label: "at most" },
  { value: ">", label: "above" },
  { value: ">=", label: "at least" },
];

export type ConditionWordsProps = Readonly<{
  condition: Condition;
  /** Its place in the rule, and of how many. */
  place: number;
  of: number;
  rule: number;
  metrics: readonly string[];
  isChosen: boolean;
  onChoose: () => void;
  onCondition: (more: Partial<Condition>) => void;
  onRemove: () => void;
}>;

/** One condition of a rule, in words that are pressed to be others. */
export function ConditionWords(props: ConditionWordsProps) {
  const { condition, place, of, rule, metrics, isChosen, onChoose, onCondition, onRemove } = props;
  const name = (what: string) => `Rule ${rule}: condition ${place + 1}, ${what}`;
  return (
    <span className="mr-1.5 inline-block whitespace-nowrap">
      {of > 1 && (
        <input
          type="radio"
          name={`shown-${rule}`}
          aria-label={`Show ${condition.metric} in the picture`}
          className="mr-1 align-middle"
          checked={isChosen}
          onChange={onChoose}
        />
      )}
      <MetricWord
        label={name("metric")}
        value={condition.metric}
        metrics={metrics}
        onMetric={(metric) => onCondition({ metric })}
      />
      ,{" "}
      <WordChoice
        label={name("statistic")}
        value={condition.statistic}
        options={STATISTICS}
        onChange={({ target }) => onCondition({ statistic: target.value as Condition["statistic"] })}
      />{" "}
      of{" "}
      <Amount
        label={name("window, minutes")}
        value={condition.window}
        least={1}
        whole
        onAmount={(window) => onCondition({ window })}
      />{" "}
      min, is{" "}
      <WordChoice
        label={name("comparison")}
        value={condition.op}
        options={OPS}
        onChange={({ target }) => onCondition({ op: target.value as Condition["op"] })}
      />{" "}
      <Amount label={name("threshold")} value={condition.threshold} onAmount={(threshold) => onCondition({ threshold })} />
      {of > 1 && (
        <button
          type="button"
          aria-label={`Remove condition ${place + 1} of rule ${rule}`}
          className="px-1 text-soft hover:text-loss"
          onClick={onRemove}
        >
          ×
        </button>
      )}
      {place < of - 1 ? ";" : ""}
    </span>
  );
}

/** A metric by its name; one that nothing is known of yet can be typed. */
function MetricWord({
  label,
  value,
  metrics: given,
  onMetric,
}: {
  label: string;
  value: string;
  metrics: readonly string[];
  onMetric: (metric: string) => void;
}) {
  const list = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const metrics = useMetricNames(given, typed ?? value);
  const isUnknown = !metrics.includes(typed ?? value);
  return (
    <>
      <input
        aria-label={label}
        title={isUnknown ? "nothing is known of such a metric yet" : label}
        list={list}
        className={`${WORD} min-w-[40px] cursor-text ${isUnknown ? "text-loss" : ""}`}
        value={typed ?? value}
        onChange={({ target }) => {
          setTyped(target.value);
          if (target.value.trim() !== "") onMetric(target.value.trim());
        }}
        onBlur={() => setTyped(null)}
      />
      <datalist id={list}>
        {metrics.map((metric) => (
          <option key={metric} value={metric} />
        ))}
      </datalist>
    </>
  );
}
