"use client";
import type { Condition, IdleRule } from "@/core/idle";
import { Button } from "../kit/button";
import { WordChoice } from "../kit/word-choice";
import { Amount } from "./amount";
import { ConditionWords } from "./condition-words";

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
        {rule.conditions.map((condition, i) => (
          <ConditionWords
            // Conditions have no other name than their place.
            // biome-ignore lint/suspicious/noArrayIndexKey: see above
            key={i}
            condition={condition}
            place={i}
            of={rule.conditions.length}
            rule={number}
            metrics={metrics}
            isChosen={chosen === i}
            onChoose={() => onChoose(i)}
            onCondition={(more) => setCondition(i, more)}
            onRemove={() => set({ conditions: rule.conditions.filter((_, k) => k !== i) })}
          />
        ))}
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
      <FinePrint rule={rule} label={label} set={set} onRemove={onRemove} number={number} />
    </fieldset>
  );
}

type FinePrintProps = Readonly<{
  rule: IdleRule;
  number: number;
  label: (what: string) => string;
  set: (more: Partial<IdleRule>) => void;
  onRemove: () => void;
}>;

/** What counts as seen, when it is left alone, and what it costs to be wrong. */
function FinePrint({ rule, number, label, set, onRemove }: FinePrintProps) {
  return (
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
        <Amount label={label("settle, minutes")} value={rule.settle} least={0} whole onAmount={(settle) => set({ settle })} /> min
        after a start. Somebody back within{" "}
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
  );
}
