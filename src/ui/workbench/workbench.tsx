"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { Calendar } from "@/core/hours";
import type { FleetDraft, FleetPlan, ScheduleDraft } from "@/core/plan";
import type { ProjectionCheck } from "@/services/cost";
import type { MissingStart } from "@/services/inventory";
import type { PlanVersion } from "@/services/plans";
import type { Follower, StoredOverride } from "@/services/rounds";
import { Notice } from "../kit/notice";
import { ForceDialog } from "./force-dialog";
import { Heading } from "./heading";
import { ForcedNotice, MissingNotice, SavingNotices } from "./notices";
import { Section } from "./section";
import { PlanHolds, PlanHours, PlanMix, PlanQuiet, PlanReady } from "./sections";
import { SkipLinks } from "./skip-links";
import { useDraft } from "./use-draft";
import { useEdited } from "./use-edited";
import { Versions } from "./versions";
import { Who } from "./who";
import { Worth } from "./worth";

export type WorkbenchProps = {
  fleet: Readonly<{ id: number; name: string; version: number; draft: FleetDraft; inForce: FleetPlan | null }>;
  versions: readonly PlanVersion[];
  /** As they are written in a plan file: what a server hands to a browser is plain data. */
  schedules: readonly ScheduleDraft[];
  calendars: readonly Calendar[];
  /** Region to the zone where its people live. */
  regionZones: Readonly<Record<string, string>>;
  holds: readonly StoredOverride[];
  /** Which fleets in force follow each schedule, by its name. */
  followers: Readonly<Record<string, readonly Follower[]>>;
  /** What of it should be on by now and is not. */
  missing: readonly MissingStart[];
  /** How its projection compared with the meter; null where nothing is to compare yet. */
  check: ProjectionCheck | null;
  /** The metrics that there are samples of. */
  metrics: readonly string[];
  /** The one zone of the page; the week names its own. */
  zone: string;
};

/** One fleet: its plan on the left, section by section, and what it is worth on the right. */
export function Workbench(props: WorkbenchProps) {
  const { fleet, versions, calendars, zone } = props;
  const router = useRouter();
  const own = useDraft(fleet);
  const { draft, onDraft } = own;
  const [isForcing, setIsForcing] = useState(false);
  const edited = useEdited({ ...props, draft, onDraft });
  const { basis, isOld, error, changes } = edited;
  const part = { fleet, draft, edited, zone, onDraft };
  return (
    <div className="grid grid-cols-1 lg:h-full lg:grid-cols-[minmax(0,1fr)_360px]">
      <SkipLinks />
      <div className="flex min-w-0 flex-col gap-2 px-4 py-3 lg:relative lg:min-h-0 lg:overflow-auto">
        <Heading name={fleet.name} isInForce={fleet.inForce !== null} isDifferent={changes.length > 0} edited={own} />
        <SavingNotices edited={own} />
        <MissingNotice missing={props.missing} />
        {error && <Notice kind="error">{error}</Notice>}
        <ForcedNotice isForced={own.isForced} />
        <Section title="Who" summary={basis && !basis.selectorError ? `${basis.total} match` : draft.select} isOpenFirst={false}>
          <Who draft={draft} basis={basis} isOld={isOld} onDraft={onDraft} />
        </Section>
        <PlanHours {...part} calendars={calendars} followers={props.followers} />
        <PlanQuiet {...part} metrics={props.metrics} />
        <PlanReady {...part} />
        <PlanMix {...part} />
        <PlanHolds {...part} holds={props.holds} />
        <Section title="Versions" summary={versions.length === 0 ? "none yet" : `${versions.length} kept`} isOpenFirst={false}>
          <Versions versions={versions} onTake={onDraft} />
        </Section>
      </div>
      <Worth edited={edited} fleetId={fleet.id} check={props.check} onForce={() => setIsForcing(true)} />
      {isForcing && (
        <ForceDialog
          fleetId={fleet.id}
          draft={draft}
          flush={own.flush}
          onClose={() => setIsForcing(false)}
          onForced={(version) => {
            own.onForced(version);
            setIsForcing(false);
            router.refresh();
          }}
        />
      )}
    </div>
  );
}
