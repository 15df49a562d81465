"use client";
import { useRouter } from "next/navigation";
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from "react";
import { type Calendar, type HoursLevel, livedIn, type Schedule, scheduleSchema } from "@/core/hours";
import { type IdleRule, ruleWords } from "@/core/idle";
import { type FleetDraft, type FleetPlan, pooledWords, type ScheduleDraft } from "@/core/plan";
import { decodeLines } from "@/core/projection";

import type { ProjectionCheck } from "@/services/cost";
import type { MissingStart } from "@/services/inventory";
import type { PlanVersion } from "@/services/plans";
import type { Follower, StoredOverride } from "@/services/rounds";
import { useBasis } from "../fleets/use-basis";
import { HoldForm } from "../holds/hold-form";
import { HoldList } from "../holds/hold-list";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { useHistory } from "../kit/use-history";
import { BasisDays } from "../ledger/basis-days";
import { Check } from "../ledger/check";
import { firstRound, saidHours } from "../ledger/first-round";
import { Ledger } from "../ledger/ledger";
import { money } from "../ledger/money";
import { laidUnder, projectionOf } from "../ledger/project";
import { MixSection } from "../mix/mix-section";
import { mixWords } from "../mix/words";
import { QuietCourse } from "../quiet/quiet-section";
import { ReadyCourse } from "../ready/ready-section";
import { brickPrice } from "./brick-price";
import { Conflict } from "./conflict";
import { coreWords } from "./core-words";
import { checkSchedule, differences, knownSchedules, planOf, scheduleOf } from "./draft";
import { ForceDialog } from "./force-dialog";
import { HoursCourse } from "./hours-section";
import { Course } from "./section";
import { SkipLinks } from "./skip-links";
import { useAutosave } from "./use-autosave";
import { useProjection } from "./use-projection";
import { Versions } from "./versions";
import { warningsOf } from "./warnings";
import { Who } from "./who";
import { zonesOf } from "./zones-of";

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

const NO_FOLLOWERS: readonly Follower[] = [];

/** One fleet: its plan on the left, course by course, and what it is worth on the right. */
export function Workbench({
  fleet,
  versions,
  schedules: scheduleFiles,
  calendars,
  regionZones,
  holds,
  followers,
  missing,
  check,
  metrics,
  zone,
}: WorkbenchProps) {
  const router = useRouter();
  const [history, dispatch] = useHistory(fleet.draft);
  const draft = history.present;
  const [isForcing, setIsForcing] = useState(false);
  const [forced, setForced] = useState(false);
  // The press that put it in force is off now: the keyboard goes on from what it did.
  const forcedNote = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (forced) forcedNote.current?.focus();
  }, [forced]);
  const onRestored = (left: FleetDraft) => dispatch({ kind: "change", to: left });
  const { saving, flush, accept } = useAutosave(fleet.id, draft, { firstVersion: fleet.version, onRestored });
  const { basis, isOld, error } = useBasis(draft.select, fleet.id);
  const schedules = useMemo(() => scheduleFiles.map((file) => scheduleSchema.parse(file) as Schedule), [scheduleFiles]);
  const onDraft = useCallback(
    (next: FleetDraft) => {
      setForced(false);
      dispatch({ kind: "change", to: next });
    },
    [dispatch],
  );

  const schedule = useMemo(() => scheduleOf(draft, schedules), [draft, schedules]);
  const checked = useMemo(() => schedule && checkSchedule(schedule, calendars), [schedule, calendars]);
  const compiled = checked?.compiled ?? null;
  const livedInZones = useMemo(() => zonesOf(basis, regionZones), [basis, regionZones]);
  const zoneHint = livedInZones[0]?.zone ?? Object.values(regionZones)[0] ?? "UTC";
  // Hours without a zone of their own are drawn where most of the machines are.
  const drawn = useMemo(
    () => checked && { ...checked, compiled: checked.compiled && livedIn(checked.compiled, zoneHint) },
    [checked, zoneHint],
  );
  const plan = useMemo(() => planOf(draft), [draft]);
  const received = useMemo(() => (basis ? decodeLines(basis.projected) : []), [basis]);
  const laid = useMemo(() => basis && laidUnder(received, basis, draft.size), [received, basis, draft.size]);
  const projected = laid?.lines ?? received;
  const known = useMemo(() => knownSchedules(schedules, calendars, compiled), [schedules, calendars, compiled]);
  const onBasis = useMemo(() => basis && { basis, plan, schedules: known }, [basis, plan, known]);
  // Hours that are being mistyped are no hours yet, whatever is stored under their name.
  const hasHours = plan?.hours !== undefined && (typeof plan.hours !== "string" || compiled !== null);
  const rules = plan?.idle ?? NO_RULES;
  /** The rules while one is dragged; null while nothing is. */
  const [dragged, setDragged] = useState<readonly IdleRule[] | null>(null);
  const shownRules = dragged ?? rules;
  const [isMixAsked, setIsMixAsked] = useState(false);
  const askMix = useCallback(() => setIsMixAsked(true), []);
  const { trials, pool, mixView, byHours, projection, isPeopleCounted } = useProjection({
    fleetId: fleet.id,
    draft,
    rules: shownRules,
    onBasis,
    laid,
    hasHours,
    hours: drawn?.compiled ?? null,
    zone: zoneHint,
    isMixAsked,
  });
  // The price and the bricks are drawn at once; whom it stops and what is odd about it follow a moment later.
  const edited = useMemo(() => ({ draft, schedule, checked: drawn, onBasis }), [draft, schedule, drawn, onBasis]);
  const later = useDeferredValue(edited);
  const said = useMemo(() => (later.onBasis ? saidHours(later.onBasis) : []), [later]);
  const first = useMemo(() => later.onBasis && firstRound(later.onBasis), [later]);

  const lines = basis?.lines ?? [];
  const machineCount = lines.filter(({ resource, claimedBy }) => resource.kind === "machine" && claimedBy === null).length;
  // A pool's hours give counts of machines.
  const levelMax = Math.max(
    draft.pooled ? machineCount : 1,
    ...lines.map(({ resource }) => (resource.kind === "machine" ? 1 : resource.levelMax)),
  );
  const zones = useMemo(() => [...new Set(Object.values(regionZones))], [regionZones]);
  const currency = basis?.currency ?? "";
  const isPooled = draft.pooled !== undefined;
  const priceOf = useCallback(
    (said: HoursLevel, minutes: number) => `${money(brickPrice(projected, { said, minutes, isPooled }))} ${currency}`,
    [projected, currency, isPooled],
  );
  const reprice = useCallback(
    (week: ScheduleDraft) => {
      const other = checkSchedule(week, calendars).compiled;
      if (!other || !basis || !laid || !plan) return null;
      return projectionOf(laid, { basis, plan, schedules: new Map(known).set(week.name, other) });
    },
    [calendars, basis, plan, laid, known],
  );
  const machines = useMemo(() => (basis?.lines ?? []).map(({ resource }) => ({ id: resource.id, name: resource.name })), [basis]);
  const changes = differences(draft, fleet.inForce);
  const forceMix = fleet.inForce?.mix;
  const keptMix = useMemo(() => (forceMix ? { fleet: fleet.name, mix: forceMix } : null), [fleet.name, forceMix]);
  const warnings = useMemo(
    () =>
      basis && first ? warningsOf({ ...later, basis, first, said, now: basis.now, regionZones, onDraft, isPeopleCounted }) : [],
    [later, basis, first, said, regionZones, onDraft, isPeopleCounted],
  );

  return (
    <div className="grid grid-cols-1 lg:h-full lg:grid-cols-[minmax(0,1fr)_360px]">
      <SkipLinks />
      <div className="flex min-w-0 flex-col gap-2 px-4 py-3 lg:relative lg:min-h-0 lg:overflow-auto">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <h1 className="font-medium text-[20px] leading-7">{fleet.name}</h1>
          <span className="text-soft">
            {fleet.inForce ? (changes.length === 0 ? "in force" : "in force; this draft differs") : "draft, touches nothing"}
          </span>
          <div className="flex-1" />
          <span role="status" className="text-[13px] text-soft">
            {saving.state === "saving" ? "keeping…" : saving.state === "saved" ? "draft kept" : ""}
          </span>
          <Button onClick={() => dispatch({ kind: "undo" })} disabled={history.past.length === 0}>
            Undo
          </Button>
          <Button onClick={() => dispatch({ kind: "redo" })} disabled={history.future.length === 0}>
            Redo
          </Button>
        </div>
        {/* Where one types may be far down the page: what needs an answer stays in sight. */}
        <div className="sticky top-0 z-10 flex flex-col gap-2 empty:hidden">
          {saving.state === "failed" && (
            <Notice kind="error" action={<Button onClick={() => void flush()}>Try again</Button>}>
              {saving.message}
            </Notice>
          )}
          {saving.apart && (
            <Conflict
              key={saving.apart.version}
              base={saving.apart.base}
              mine={draft}
              theirs={saving.apart.theirs}
              onChosen={(chosen) => {
                if (saving.apart) accept(saving.apart.theirs, saving.apart.version);
                dispatch({ kind: "change", to: chosen });
              }}
            />
          )}
        </div>
        {missing.length > 0 && (
          <Notice kind="error">
            <b>
              {missing.length} should be on and {missing.length === 1 ? "is" : "are"} not
            </b>
            :{" "}
            {missing
              .slice(0, 5)
              .map(({ name }) => name)
              .join(", ")}
            {missing.length > 5 && ` and ${missing.length - 5} more`}. Its provider says: {missing[0]?.lastAnswer}.
          </Notice>
        )}
        {error && <Notice kind="error">{error}</Notice>}
        {forced && (
          <div ref={forcedNote} tabIndex={-1}>
            <Notice kind="fine" action={<Button onClick={() => router.push("/rounds")}>Go to rounds</Button>}>
              In force. The next round goes by it, within a minute.
            </Notice>
          </div>
        )}
        <Course title="Who" summary={basis && !basis.selectorError ? `${basis.total} match` : draft.select} isOpenFirst={false}>
          <Who draft={draft} basis={basis} isOld={isOld} onDraft={onDraft} />
        </Course>
        <Course
          title="Hours"
          summary={schedule ? `${schedule.name}, ${schedule.zone}` : draft.hours === null ? "none yet" : "named by each machine"}
          isOpenFirst
        >
          <HoursCourse
            draft={draft}
            schedule={schedule}
            checked={drawn}
            schedules={schedules}
            calendars={calendars}
            now={basis?.now ?? 0}
            levelMax={levelMax}
            livedIn={basis && !isOld ? livedInZones : null}
            zoneHint={zoneHint}
            regionZones={zones}
            currency={currency}
            view={basis?.view ?? "after"}
            priceOf={priceOf}
            coreWords={coreWords(projected, currency)}
            projected={projected}
            projection={byHours}
            reprice={reprice}
            followers={followers[schedule?.name ?? ""] ?? NO_FOLLOWERS}
            starts={basis?.starts ?? null}
            usualStartS={Math.max(0, ...(basis?.capabilities ?? []).map(([, { usualS }]) => usualS.start))}
            said={said}
            onDraft={onDraft}
          />
        </Course>
        <Course
          title="Quiet"
          summary={rules.length === 0 ? "no idle rule" : rules.map(ruleWords).join("; ")}
          isOpenFirst={rules.length > 0}
        >
          <QuietCourse
            fleet={fleet.name}
            isInForce={fleet.inForce !== null && (fleet.inForce.idle?.length ?? 0) > 0}
            rules={rules}
            shown={shownRules}
            metrics={metrics}
            hasHours={draft.hours !== null}
            trials={trials}
            zone={zone}
            now={basis?.now ?? 0}
            currency={currency}
            onPreview={setDragged}
            onRules={(next) => onDraft(withRules(draft, next))}
          />
        </Course>
        {machineCount > 0 && (
          <Course title="Ready" summary={pooledWords(draft.pooled)} isOpenFirst={draft.pooled !== undefined}>
            <ReadyCourse
              draft={draft}
              machines={machineCount}
              pool={pool}
              currency={currency}
              schedules={schedules.map(({ name }) => name)}
              onDraft={onDraft}
            />
          </Course>
        )}
        {lines.some(({ resource }) => resource.kind !== "service") && (
          <Course title="Mix" summary={mixWords(draft.mix)} isOpenFirst={draft.mix !== undefined}>
            <MixSection
              draft={draft}
              view={mixView}
              hasHours={drawn?.compiled != null}
              onAsk={askMix}
              now={basis?.now ?? 0}
              zone={zone}
              inForce={keptMix}
              onDraft={onDraft}
            />
          </Course>
        )}
        {fleet.inForce && (
          <Course title="Holds" summary={holds.length === 0 ? "none" : `${holds.length} in effect`} isOpenFirst={false}>
            <HoldList holds={holds} zone={zone} now={basis?.now ?? 0} />
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
          </Course>
        )}
        <Course title="Versions" summary={versions.length === 0 ? "none yet" : `${versions.length} kept`} isOpenFirst={false}>
          <Versions versions={versions} onTake={onDraft} />
        </Course>
      </div>
      <div
        id="ledger"
        tabIndex={-1}
        className="border-lines bg-raised px-4 py-3 max-lg:border-t lg:relative lg:min-h-0 lg:overflow-auto lg:border-l"
      >
        {projection && first && basis ? (
          <Ledger
            projection={projection}
            first={first}
            currency={basis.currency}
            view={basis.view}
            isOld={isOld}
            basis={<BasisDays key={basis.days.join()} basis={basis} fleetId={fleet.id} />}
            check={check && <Check check={check} currency={basis.currency} />}
            machines={machines}
            warnings={warnings}
            differences={changes}
            press={
              <Button look="strong" className="justify-center" onClick={() => setIsForcing(true)} disabled={changes.length === 0}>
                Put in force…
              </Button>
            }
          />
        ) : (
          <p className="text-soft">Reading what these machines cost and how they ran…</p>
        )}
      </div>
      {isForcing && (
        <ForceDialog
          fleetId={fleet.id}
          draft={draft}
          flush={flush}
          onClose={() => setIsForcing(false)}
          onForced={(version) => {
            // What was drafted is the stored schedule now; the draft goes on from there.
            const next = { ...draft, schedule: null };
            accept(next, version);
            dispatch({ kind: "replace", to: next });
            setIsForcing(false);
            setForced(true);
            router.refresh();
          }}
        />
      )}
    </div>
  );
}

const NO_RULES: readonly IdleRule[] = [];

/** A draft with other idle rules; without any it is as if there never was one. */
function withRules({ idle: _, ...draft }: FleetDraft, rules: readonly IdleRule[]): FleetDraft {
  return rules.length === 0 ? draft : { ...draft, idle: [...rules] };
}
