"use client";
import { ILL_S, type Mix, mostWanted, REPLACED_A_DAY } from "@/core/mix";
import type { FleetDraft } from "@/core/plan";
import { MINUTE_S } from "@/core/time";
import { WordChoice } from "../kit/word-choice";
import { WordNumber } from "../kit/word-number";
import { unhealthyWords } from "./words";

export type MixSentenceProps = Readonly<{
  draft: FleetDraft;
  mix: Mix;
  /** What is counted: a size. */
  size: string;
  hasHours: boolean;
  set: (more: Partial<Mix>) => void;
  onDraft: (draft: FleetDraft) => void;
}>;

const MINUTES_MAX = 10_080;
const WANTED_MAX = 10_000;

/** A mix as a sentence whose words are pressed to be others. */
export function MixSentence({ draft, mix, size, hasHours, set, onDraft }: MixSentenceProps) {
  const most = mostWanted(mix.wanted);
  return (
    <p className="leading-7">
      <WordNumber
        label="Units wanted"
        value={most}
        max={WANTED_MAX}
        onNumber={(wanted) => set({ wanted, firm: Math.min(mix.firm, wanted), floor: Math.min(mix.floor ?? 0, wanted) })}
      />{" "}
      x {size} are wanted{hasHours ? " when its hours say on" : ""}. Spot comes{" "}
      <WordChoice
        label="Order of pools"
        value={mix.order}
        options={[
          { value: "even", label: "evenly from all pools" },
          { value: "cheapest", label: "from the cheapest that has any" },
          { value: "steadiest", label: "from the steadiest that has any" },
          { value: "blend", label: "from all, more from cheap and steady ones" },
        ]}
        onChange={({ target }) => set({ order: target.value as Mix["order"] })}
      />
      ; when one is evicted,{" "}
      <WordChoice
        label="On eviction"
        value={mix.eviction}
        options={[
          { value: "drop", label: "its disk is dropped and another takes its place" },
          { value: "keep disks", label: "its disk is kept and waits for its own pool" },
        ]}
        onChange={({ target }) => set({ eviction: target.value as Mix["eviction"] })}
      />
      , tried every{" "}
      <WordNumber
        label="Minutes between attempts"
        value={mix.refillEveryMinutes ?? 0}
        max={MINUTES_MAX}
        onNumber={(n) => set({ refillEveryMinutes: n === 0 ? null : n })}
      />{" "}
      min; set-up takes{" "}
      <WordNumber
        label="Minutes of set-up"
        value={mix.setupMinutes ?? 0}
        max={MINUTES_MAX}
        onNumber={(n) => set({ setupMinutes: n })}
      />{" "}
      min. <FallbackWords mix={mix} set={set} />. Members that are unhealthy for {ILL_S / MINUTE_S} minutes{" "}
      <UnhealthyWords draft={draft} onDraft={onDraft} />.
    </p>
  );
}

/** Whether, after how long and until when full price stands in for spot. */
function FallbackWords({ mix, set }: Pick<MixSentenceProps, "mix" | "set">) {
  return (
    <>
      <WordChoice
        label="Fallback"
        value={mix.fallbackAfterMinutes === null ? "never" : "after"}
        options={[
          { value: "never", label: "Full price never stands in" },
          { value: "after", label: "Full price stands in after" },
        ]}
        onChange={({ target }) => set({ fallbackAfterMinutes: target.value === "never" ? null : 30 })}
      />
      {mix.fallbackAfterMinutes !== null && (
        <>
          {" "}
          <WordNumber
            label="Minutes until full price stands in"
            value={mix.fallbackAfterMinutes}
            max={MINUTES_MAX}
            onNumber={(n) => set({ fallbackAfterMinutes: n })}
          />{" "}
          min, and goes when a pool has been there for{" "}
          <WordNumber
            label="Minutes until the way back"
            value={mix.returnAfterMinutes ?? 0}
            max={MINUTES_MAX}
            onNumber={(n) => set({ returnAfterMinutes: n })}
          />{" "}
          min
        </>
      )}
    </>
  );
}

/** What becomes of members that are called unhealthy. */
function UnhealthyWords({ draft, onDraft }: Pick<MixSentenceProps, "draft" | "onDraft">) {
  return (
    <WordChoice
      label="Unhealthy members"
      value={draft.unhealthy ?? "replace"}
      options={[
        { value: "replace", label: `${unhealthyWords("replace")}, ${REPLACED_A_DAY} a day at most` },
        { value: "tell", label: `${unhealthyWords("tell")}, and stay` },
        // A plan file may say so: what it comes to is said, and it is not offered.
        ...(draft.unhealthy === "restart" ? [{ value: "restart", label: unhealthyWords("restart") }] : []),
      ]}
      onChange={({ target }) => {
        const { unhealthy: _, ...rest } = draft;
        onDraft(target.value === "replace" ? rest : { ...rest, unhealthy: target.value as "tell" | "restart" });
      }}
    />
  );
}
