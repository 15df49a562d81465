"use client";
import { useId, useState } from "react";
import type { Condition, IdleRule } from "@/core/idle";
import { Button } from "../kit/button";
import { WORD, WordChoice } from "../kit/word-choice";

export type RuleSentenceProps = {
  rule: IdleRule;
  number: number;
  metrics: readonly string[];
  /** Whether the fleet has hours that "inside" and "outside" could be about. */
  hasHours: boolean;
  chosen: number;
  onChoose: (condition: number) => void;
  onRule: (rule: IdleRule) => void;
  onRemove: () => void;
};

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

/** A rule as a sentence whose words are pressed to be others. */
export function RuleSentence({ rule, number, metrics, hasHours, chosen, onChoose, onRule, onRemove }: RuleSentenceProps) {
  const label = (what: string) => `Rule ${number}: ${what}`;
  const set = (more: Partial<IdleRule>) => onRule({ ...rule, ...more });
  const setCondition = (i: number, more: Partial<Condition>) =>
    set({ conditions: rule.conditions.map((one, k) => (k === i ? { ...one, ...more } : one)) });
  return (
    <fieldset className="rounded-brick border border-lines px-3 py-2">
      <legend className="sr-only">Rule {number}</legend>
      <div className="leading-8">
        When{" "}
        {rule.conditions.length > 1 && (
          <>
            <WordChoice
              label={label("all or any")}
              value={rule.match}
              options={[
                { value: "all", label: "all of" },
                { value: "any", label: "any of" },
              ]}
              onChange={({ target }) => set({ match: target.value as IdleRule["match"] })}
            />{" "}
          </>
        )}
        {rule.conditions.map((condition, i) => {
          const name = (what: string) => label(`condition ${i + 1}, ${what}`);
          return (
            // Conditions have no other name than their place.
            // biome-ignore lint/suspicious/noArrayIndexKey: see above
            <span key={i} className="mr-1.5 inline-block whitespace-nowrap">
              {rule.conditions.length > 1 && (
                <input
                  type="radio"
                  name={`shown-${number}`}
                  aria-label={`Show ${condition.metric} in the picture`}
                  className="mr-1 align-middle"
                  checked={chosen === i}
                  onChange={() => onChoose(i)}
                />
              )}
              <MetricWord
                label={name("metric")}
                value={condition.metric}
                metrics={metrics}
                onMetric={(metric) => setCondition(i, { metric })}
              />
              ,{" "}
              <WordChoice
                label={name("statistic")}
                value={condition.statistic}
                options={STATISTICS}
                onChange={({ target }) => setCondition(i, { statistic: target.value as Condition["statistic"] })}
              />{" "}
              of{" "}
              <Amount
                label={name("window, minutes")}
                value={condition.window}
                least={1}
                whole
                onAmount={(window) => setCondition(i, { window })}
              />{" "}
              min, is{" "}
              <WordChoice
                label={name("comparison")}
                value={condition.op}
                options={OPS}
                onChange={({ target }) => setCondition(i, { op: target.value as Condition["op"] })}
              />{" "}
              <Amount
                label={name("threshold")}
                value={condition.threshold}
                onAmount={(threshold) => setCondition(i, { threshold })}
              />
              {rule.conditions.length > 1 && (
                <button
                  type="button"
                  aria-label={`Remove condition ${i + 1} of rule ${number}`}
                  className="px-1 text-soft hover:text-loss"
                  onClick={() => set({ conditions: rule.conditions.filter((_, k) => k !== i) })}
                >
                  ×
                </button>
              )}
              {i < rule.conditions.length - 1 ? ";" : ""}
            </span>
          );
        })}
        <button
          type="button"
          className="text-attention underline-offset-2 hover:underline"
          onClick={() =>
            set({ conditions: [...rule.conditions, { ...(rule.conditions.at(-1) as Condition), metric: metrics[0] ?? "cpu" }] })
          }
        >
          and more
        </button>
        , warn its owner and after{" "}
        <Amount label={label("warning, minutes")} value={rule.warn} least={0} whole onAmount={(warn) => set({ warn })} /> min{" "}
        <WordChoice
          label={label("action")}
          value={rule.action}
          options={[
            { value: "stop", label: "stop it" },
            { value: "hibernate", label: "hibernate it" },
            { value: "tell", label: "only tell" },
          ]}
          onChange={({ target }) => set({ action: target.value as IdleRule["action"] })}
        />
        , looked at{" "}
        <WordChoice
          label={label("applies")}
          value={rule.applies}
          options={[
            { value: "always", label: "always" },
            ...(hasHours || rule.applies === "inside" ? [{ value: "inside", label: "inside hours" }] : []),
            ...(hasHours || rule.applies === "outside" ? [{ value: "outside", label: "outside hours" }] : []),
          ]}
          onChange={({ target }) => set({ applies: target.value as IdleRule["applies"] })}
        />
        .
      </div>
      <div className="flex flex-wrap items-baseline text-[13px] text-soft leading-7">
        <span className="flex-1">
          At least{" "}
          <Amount
            label={label("coverage, per cent")}
            value={Math.round(rule.coverage * 1000) / 10}
            least={0}
            most={100}
            onAmount={(share) => set({ coverage: share / 100 })}
          />{" "}
          % of the samples; left alone for{" "}
          <Amount label={label("settle, minutes")} value={rule.settle} least={0} whole onAmount={(settle) => set({ settle })} />{" "}
          min after a start. Somebody back within{" "}
          <Amount
            label={label("interruption, minutes")}
            value={rule.interruptionWithin}
            least={0}
            whole
            onAmount={(interruptionWithin) => set({ interruptionWithin })}
          />{" "}
          min counts as cut off; a start takes{" "}
          <Amount
            label={label("start, minutes")}
            value={rule.startMinutes}
            least={0}
            onAmount={(startMinutes) => set({ startMinutes })}
          />{" "}
          min.
        </span>
        <Button look="quiet" className="h-[24px]! text-[13px]" onClick={onRemove} aria-label={`Remove rule ${number}`}>
          Remove
        </Button>
      </div>
    </fieldset>
  );
}

/** A metric by its name; one that nothing is known of yet can be typed. */
function MetricWord({
  label,
  value,
  metrics,
  onMetric,
}: {
  label: string;
  value: string;
  metrics: readonly string[];
  onMetric: (metric: string) => void;
}) {
  const list = useId();
  const [typed, setTyped] = useState<string | null>(null);
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

type AmountProps = {
  label: string;
  value: number;
  least?: number;
  most?: number;
  whole?: boolean;
  onAmount: (value: number) => void;
};

/** A number in the sentence: taken once it reads as one and lies in its range; until then it stays as typed. */
function Amount({ label, value, least = Number.NEGATIVE_INFINITY, most = 525_600, whole = false, onAmount }: AmountProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const read = (text: string): number | null => {
    const number = text.trim() === "" ? Number.NaN : Number(text.replace(",", "."));
    const isFine = Number.isFinite(number) && number >= least && number <= most && (!whole || Number.isInteger(number));
    return isFine ? number : null;
  };
  const isWrong = typed !== null && read(typed) === null;
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      aria-invalid={isWrong ? true : undefined}
      title={isWrong ? `expected a ${whole ? "whole " : ""}number${least > -1 ? ` from ${least}` : ""}` : label}
      className={`${WORD} min-w-[28px] cursor-text text-right ${isWrong ? "border-b-loss! text-loss" : ""}`}
      value={typed ?? String(value)}
      onChange={({ target }) => {
        setTyped(target.value);
        const number = read(target.value);
        if (number !== null) onAmount(number);
      }}
      onBlur={() => setTyped(null)}
    />
  );
}
