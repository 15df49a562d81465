"use client";
import type { FleetDraft } from "@/core/plan";
import { WordChoice } from "../kit/word-choice";
import { WordNumber } from "../kit/word-number";
import { PoolPicture } from "./pool-picture";
import type { PoolView } from "./use-pool";

type Pooled = NonNullable<FleetDraft["pooled"]>;

export type ReadySectionProps = {
  draft: FleetDraft;
  machines: number;
  /** Its past weeks under the draft. */
  pool: PoolView;
  currency: string;
  /** Names of weeks whose levels may say how many are spare. */
  schedules: readonly string[];
  onDraft: (draft: FleetDraft) => void;
};

const ANEW: Pooled = { spare: 1, disconnectWait: 30, signOffWait: 0, settle: 10 };
const WAIT_MAX = 10_080;

/** Whether any machine will do for anyone, how many are kept ready, and what that was worth in the weeks before. */
export function ReadySection({ draft, machines, pool, currency, schedules, onDraft }: ReadySectionProps) {
  const { pooled } = draft;
  const set = (more: Partial<Pooled>) => onDraft({ ...draft, pooled: { ...(pooled ?? ANEW), ...more } });
  const spare = typeof pooled?.spare === "number" ? pooled.spare : null;
  // One that is named and not there any more is still what the draft says.
  const spareWeeks = [...new Set([...(typeof pooled?.spare === "string" ? [pooled.spare] : []), ...schedules])];
  return (
    <div className="flex flex-col gap-3">
      <p className="leading-7">
        Its people{" "}
        <WordChoice
          label="Machines"
          value={pooled ? "any" : "own"}
          options={[
            { value: "own", label: "each have their own machine" },
            { value: "any", label: "share them: any will do for anyone" },
          ]}
          onChange={({ target }) => {
            const { pooled: _, ...rest } = draft;
            onDraft(target.value === "any" ? { ...draft, pooled: ANEW } : rest);
          }}
        />
        .
        {pooled && (
          <>
            {" "}
            Hours say how many are on; besides those in use{" "}
            <WordChoice
              label="Spare by"
              value={typeof pooled.spare === "string" ? pooled.spare : ""}
              options={[
                { value: "", label: "always" },
                ...spareWeeks.map((name) => ({ value: name, label: `what ${name} says,` })),
              ]}
              onChange={({ target }) => set({ spare: target.value === "" ? ANEW.spare : target.value })}
            />{" "}
            {spare !== null && (
              <WordNumber label="Spare machines" value={spare} max={Math.max(0, machines)} onNumber={(n) => set({ spare: n })} />
            )}{" "}
            more are kept ready. A disconnected session counts as in use{" "}
            <WordChoice
              label="Disconnected sessions count"
              value={pooled.disconnectWait === null ? "always" : "for"}
              options={[
                { value: "always", label: "as long as it lasts" },
                { value: "for", label: "for" },
              ]}
              onChange={({ target }) => set({ disconnectWait: target.value === "always" ? null : 30 })}
            />
            {pooled.disconnectWait !== null && (
              <>
                {" "}
                <WordNumber
                  label="Minutes after a disconnect"
                  value={pooled.disconnectWait}
                  max={WAIT_MAX}
                  onNumber={(n) => set({ disconnectWait: n })}
                />{" "}
                min
              </>
            )}
            , a sign-off for{" "}
            <WordNumber
              label="Minutes after a sign-off"
              value={pooled.signOffWait}
              max={WAIT_MAX}
              onNumber={(n) => set({ signOffWait: n })}
            />{" "}
            min; what has just started is left alone for{" "}
            <WordNumber label="Minutes after a start" value={pooled.settle} max={WAIT_MAX} onNumber={(n) => set({ settle: n })} />{" "}
            min.
          </>
        )}
      </p>
      {pooled && spare !== null && spare > machines && machines > 0 && (
        <p className="text-loss">
          ✕ {spare} spare are more than its {machines} machines: all of them would always be on.
        </p>
      )}
      {pooled && typeof draft.hours !== "string" && (
        <p className="text-loss">✕ A pool needs a week of its own under Hours, with counts: how many machines are on.</p>
      )}
      {pooled && typeof draft.hours === "string" && (
        <PoolPicture view={pool} currency={currency} spare={spare} onSpare={(n) => set({ spare: n })} />
      )}
    </div>
  );
}
