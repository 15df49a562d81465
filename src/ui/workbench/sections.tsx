"use client";
import { useMemo } from "react";
import type { Calendar } from "@/core/hours";
import { type IdleRule, ruleWords } from "@/core/idle";
import { type FleetDraft, type FleetPlan, pooledWords } from "@/core/plan";
import type { Instant } from "@/core/time";
import type { Follower, StoredOverride } from "@/services/rounds";
import { HoldForm } from "../holds/hold-form";
import { HoldList } from "../holds/hold-list";
import { MixSection } from "../mix/mix-section";
import { mixWords } from "../mix/words";
import { QuietSection } from "../quiet/quiet-section";
import { ReadySection } from "../ready/ready-section";
import { coreWords } from "./core-words";
import { HoursSection } from "./hours-section";
import { Section } from "./section";
import { SoFar } from "./so-far";
import type { Edited } from "./use-edited";

export type SectionOfPlanProps = Readonly<{
  fleet: Readonly<{ name: string; inForce: FleetPlan | null }>;
  draft: FleetDraft;
  edited: Edited;
  /** The one zone of the page; the week names its own. */
  zone: string;
  onDraft: (next: FleetDraft) => void;
}>;

const NO_FOLLOWERS: readonly Follower[] = [];

/** The week, and how it is carried out. */
export function PlanHours({
  draft,
  edited,
  calendars,
  followers,
  onDraft,
}: SectionOfPlanProps & Readonly<{ calendars: readonly Calendar[]; followers: Readonly<Record<string, readonly Follower[]>> }>) {
  const { basis, schedule, projected, currency } = edited;
  const unnamed = draft.hours === null ? "none yet" : "named by each machine";
  return (
    <Section title="Hours" summary={schedule ? `${schedule.name}, ${schedule.zone}` : unnamed} isOpenFirst>
      <HoursSection
        draft={draft}
        schedule={schedule}
        checked={edited.drawn}
        schedules={edited.schedules}
        calendars={calendars}
        now={basis?.now ?? 0}
        levelMax={edited.levelMax}
        livedIn={basis && !edited.isOld ? edited.livedInZones : null}
        zoneHint={edited.zoneHint}
        regionZones={edited.zones}
        currency={currency}
        view={basis?.view ?? "after"}
        priceOf={edited.priceOf}
        coreWords={coreWords(projected, currency)}
        projected={projected}
        projection={edited.byHours}
        reprice={edited.reprice}
        followers={followers[schedule?.name ?? ""] ?? NO_FOLLOWERS}
        starts={basis?.starts ?? null}
        usualStartS={Math.max(0, ...(basis?.capabilities ?? []).map(([, { usualS }]) => usualS.start))}
        said={edited.said}
        onDraft={onDraft}
      />
    </Section>
  );
}

/** Idle alarms. */
export function PlanQuiet({
  fleet,
  draft,
  edited,
  zone,
  metrics,
  onDraft,
}: SectionOfPlanProps & Readonly<{ metrics: readonly string[] }>) {
  const { rules, basis } = edited;
  const summary = rules.length === 0 ? "no idle rule" : rules.map(ruleWords).join("; ");
  return (
    <Section title="Quiet" summary={summary} isOpenFirst={rules.length > 0}>
      <SoFar lever="idle" basis={basis} />
      <QuietSection
        fleet={fleet.name}
        isInForce={fleet.inForce !== null && (fleet.inForce.idle?.length ?? 0) > 0}
        rules={rules}
        shown={edited.shownRules}
        metrics={metrics}
        hasHours={draft.hours !== null}
        trials={edited.trials}
        zone={zone}
        now={basis?.now ?? 0}
        currency={edited.currency}
        onPreview={edited.setDragged}
        onRules={(next) => onDraft(withRules(draft, next))}
      />
    </Section>
  );
}

/** A pool of machines for people; nothing where there are no machines. */
export function PlanReady({ draft, edited, onDraft }: SectionOfPlanProps) {
  const { machineCount, pool, currency, schedules } = edited;
  if (machineCount === 0) return null;
  return (
    <Section title="Ready" summary={pooledWords(draft.pooled)} isOpenFirst={draft.pooled !== undefined}>
      <SoFar lever="ready" basis={edited.basis} />
      <ReadySection
        draft={draft}
        machines={machineCount}
        pool={pool}
        currency={currency}
        schedules={schedules.map(({ name }) => name)}
        onDraft={onDraft}
      />
    </Section>
  );
}

/** Firm and spot; nothing where there are services alone. */
export function PlanMix({ fleet, draft, edited, zone, onDraft }: SectionOfPlanProps) {
  const mix = fleet.inForce?.mix;
  const keptMix = useMemo(() => (mix ? { fleet: fleet.name, mix } : null), [fleet.name, mix]);
  if (edited.lines.every(({ resource }) => resource.kind === "service")) return null;
  return (
    <Section title="Mix" summary={mixWords(draft.mix)} isOpenFirst={draft.mix !== undefined}>
      <SoFar lever="mix" basis={edited.basis} />
      <MixSection
        draft={draft}
        view={edited.mixView}
        hasHours={edited.drawn?.compiled != null}
        onAsk={edited.askMix}
        now={edited.basis?.now ?? 0}
        zone={zone}
        inForce={keptMix}
        onDraft={onDraft}
      />
    </Section>
  );
}

/** What is held by hand, of a fleet in force. */
export function PlanHolds({
  fleet,
  edited,
  zone,
  holds,
}: Pick<SectionOfPlanProps, "fleet" | "edited" | "zone"> & Readonly<{ holds: readonly StoredOverride[] }>) {
  const { basis, levelMax, lines } = edited;
  if (!fleet.inForce) return null;
  const now: Instant = basis?.now ?? 0;
  return (
    <Section title="Holds" summary={holds.length === 0 ? "none" : `${holds.length} in effect`} isOpenFirst={false}>
      <HoldList holds={holds} zone={zone} now={now} />
      {basis && (
        <HoldForm
          on={{ fleet: fleet.name }}
          name={fleet.name}
          levelMax={levelMax}
          // Keeping a fleet on must not lower any of it: the form begins at the highest level that runs.
          level={Math.max(1, ...lines.map(({ resource }) => resource.level))}
          now={basis.now}
          zone={zone}
        />
      )}
    </Section>
  );
}

/** A draft with other idle rules; without any it is as if there never was one. */
function withRules({ idle: _, ...draft }: FleetDraft, rules: readonly IdleRule[]): FleetDraft {
  return rules.length === 0 ? draft : { ...draft, idle: [...rules] };
}
