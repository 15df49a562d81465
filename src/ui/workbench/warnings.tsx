"use client";
import type { ReactNode } from "react";
import { formatMinute, LOCAL, ON, type ScheduleWarning, scheduleWarnings } from "@/core/hours";
import type { FleetDraft, ScheduleDraft } from "@/core/plan";
import { type Instant, offsetAt } from "@/core/time";
import type { Basis } from "@/services/cost";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { dayTimePlace, placeOf } from "../kit/when";
import type { FirstRound, SaidHours } from "../ledger/first-round";
import type { CheckedSchedule } from "./draft";
import { withSchedule } from "./draft";

export type WarningInput = Readonly<{
  draft: FleetDraft;
  schedule: ScheduleDraft | null;
  basis: Basis;
  checked: CheckedSchedule | null;
  first: FirstRound;
  said: readonly SaidHours[];
  now: Instant;
  regionZones: Readonly<Record<string, string>>;
  onDraft: (draft: FleetDraft) => void;
  /** Whether the ledger counts the people of a pool. */
  isPeopleCounted: boolean;
}>;

/** What is odd about a plan, each with the thing to press where there is one. */
export function warningsOf(input: WarningInput): ReactNode[] {
  return [
    ...zoneWarning(input),
    ...weekWarnings(input),
    ...levelWarning(input),
    ...loweredWarnings(input),
    ...tagWarnings(input),
    ...otherWarnings(input),
  ];
}

/** A notice with what mends it, if anything does. */
function warn(key: string, text: ReactNode, mend?: Readonly<{ words: string; press: () => void }>): ReactNode {
  const action = mend && (
    <Button look="quiet" onClick={mend.press}>
      {mend.words}
    </Button>
  );
  return (
    <Notice key={key} kind="warning" action={action}>
      {text}
    </Notice>
  );
}

/** Hours kept in one zone for people who live in another. */
function zoneWarning({ draft, schedule, basis, checked, now, regionZones, onDraft }: WarningInput): ReactNode[] {
  if (!checked?.compiled || !schedule || schedule.zone === LOCAL) return [];
  const { zone } = checked.compiled.schedule;
  const lived = new Set(basis.lines.map(({ resource }) => regionZones[resource.fields.region ?? ""] ?? zone));
  const elsewhere = [...lived].find((other) => offsetAt(other, now) !== offsetAt(zone, now));
  if (!elsewhere) return [];
  const isOne = lived.size === 1;
  const text = `The hours are in ${placeOf(zone)} time; the people of ${isOne ? "this region" : "some regions"} live in ${[...lived].map(placeOf).join(", ")}.`;
  const press = () => onDraft(withSchedule(draft, { ...schedule, zone: elsewhere }));
  const apart = () => onDraft(withSchedule(draft, { ...schedule, zone: LOCAL }));
  const mend = isOne ? { words: `Use ${placeOf(elsewhere)}`, press } : { words: "Each in its own zone", press: apart };
  return [warn("zone", text, mend)];
}

/** Rows and spans that do not do what they seem to. */
function weekWarnings({ draft, schedule, checked, now, onDraft }: WarningInput): ReactNode[] {
  if (!checked?.compiled || !schedule || now === 0) return [];
  const { zone } = checked.compiled.schedule;
  const { lead } = draft;
  const removeRow = (row: number) =>
    onDraft(withSchedule(draft, { ...schedule, rows: schedule.rows.filter((_, i) => i !== row) }));
  const setLead = (minutes: number) => onDraft({ ...draft, lead: Math.max(0, minutes) });
  return scheduleWarnings(checked.compiled, { from: now, leadMinutes: lead }).map((warning) =>
    weekWarning(warning, { zone, lead, removeRow, setLead }),
  );
}

type Mending = Readonly<{ zone: string; lead: number; removeRow: (row: number) => void; setLead: (minutes: number) => void }>;

function weekWarning(warning: ScheduleWarning, { zone, lead, removeRow, setLead }: Mending): ReactNode {
  switch (warning.code) {
    case "overlap": {
      const { label, row, first, second } = warning;
      return warn(`overlap ${row}`, `In ${label}, ${first} and ${second} overlap; the later one counts where they do.`);
    }
    case "never": {
      const text = `The row ${warning.label} ${warning.isPast ? "is over" : "never applies in the next two years"}.`;
      return warn(`never ${warning.row}`, text, { words: "Remove it", press: () => removeRow(warning.row) });
    }
    case "never on":
      return warn("never on", "These hours never switch anything on.");
    case "short gap": {
      const mend = { words: `Lead ${warning.gapMinutes - 1} min`, press: () => setLead(warning.gapMinutes - 1) };
      return warn("short gap", gapText(warning, { lead, zone }), mend);
    }
  }
}

function gapText(
  { gapMinutes, at }: Extract<ScheduleWarning, { code: "short gap" }>,
  { lead, zone }: { lead: number; zone: string },
): string {
  const length = gapMinutes < 60 ? `${gapMinutes} min` : formatMinute(gapMinutes);
  return `The pause of ${length} at ${dayTimePlace(at, zone)} is no longer than the lead of ${lead} min: nothing stops in it.`;
}

/** Counts that some of the machines cannot have; on is never too much. */
function levelWarning({ draft, basis, checked, isPeopleCounted }: WarningInput): ReactNode[] {
  if (!checked?.compiled) return [];
  const { rows, outside } = checked.compiled.schedule;
  const most = Math.max(
    outside === ON ? 0 : (outside ?? 0),
    ...rows.flatMap(({ spans }) =>
      spans === "off" ? [] : spans.flatMap(({ level }) => (level === ON ? [] : [level as number])),
    ),
  );
  // A pool's counts are machines, not levels of each.
  if (draft.pooled) return poolWarning(most, { machines: basis.lines.length, isPeopleCounted });
  const tooSmall = basis.lines.filter(({ resource }) => most > (resource.kind === "machine" ? 1 : resource.levelMax));
  if (most <= 1 || tooSmall.length === 0) return [];
  const [one] = tooSmall;
  const max = one?.resource.kind === "machine" ? 1 : one?.resource.levelMax;
  return [
    warn(
      "level",
      `Level ${most} is more than ${tooSmall.length === 1 ? one?.resource.name : `${tooSmall.length} of these`} can have: ${one?.resource.name} runs at most at ${max}. There it stays at that.`,
    ),
  ];
}

/** Without a week of sessions the ledger lays the hours of a pool alone: who is in use above them comes on top. */
function poolWarning(
  most: number,
  { machines, isPeopleCounted }: Readonly<{ machines: number; isPeopleCounted: boolean }>,
): ReactNode[] {
  const alone = "No week of sessions is known, so this counts the hours alone: machines in use above them come on top.";
  return [
    ...(isPeopleCounted ? [] : [warn("pool", alone)]),
    ...(most > machines ? [warn("pool size", `The hours want ${most} machines, and there are ${machines}.`)] : []),
  ];
}

/** Counts below what a group has had: part of what is saved is running fewer. */
function loweredWarnings({ draft, schedule, first: { lowered }, onDraft }: WarningInput): ReactNode[] {
  return lowered.map(({ resource, had, most }) => {
    const text = `${resource.name} has had ${had} and never gets more than ${most} by these hours.`;
    const isCounted = schedule?.rows.some(({ spans }) => spans?.some((span) => span.endsWith(` x${most}`)));
    const press = () => schedule && onDraft(withSchedule(draft, withoutCount(schedule, most)));
    if (isCounted) return warn(`lowered ${resource.id}`, text, { words: `On in place of ${most}`, press });
    if (draft.size === undefined) return warn(`lowered ${resource.id}`, text);
    const { size: _, ...unsized } = draft;
    return warn(`lowered ${resource.id}`, text, { words: "Their own size", press: () => onDraft(unsized) });
  });
}

/** The schedule with on, whatever size that is, where it had a count. */
function withoutCount(schedule: ScheduleDraft, count: number): ScheduleDraft {
  const ending = ` x${count}`;
  const plain = (span: string) => (span.endsWith(ending) ? span.slice(0, -ending.length) : span);
  return { ...schedule, rows: schedule.rows.map((row) => (row.spans ? { ...row, spans: row.spans.map(plain) } : row)) };
}

/** Tags that name no hours, or a line that does not read. */
function tagWarnings({ said }: WarningInput): ReactNode[] {
  return said.flatMap(({ found, text, machines }) => {
    if (found.kind !== "unknown" && found.kind !== "unreadable") return [];
    const isOne = machines.length === 1;
    return [
      warn(
        `said ${text}`,
        <>
          {machines.length > 3 ? `${machines.length} machines` : machines.join(", ")} {isOne ? "says" : "say"} <b>{text}</b>,{" "}
          {found.kind === "unknown" ? "which names no hours" : `which does not read as hours (${found.message})`}
          {found.nearest !== null && (
            <>
              ; the nearest is <b>{found.nearest}</b>
            </>
          )}
          . {isOne ? "It is" : "They are"} left alone.
        </>,
      ),
    ];
  });
}

function otherWarnings({ basis, first: { whyNoHibernation } }: WarningInput): ReactNode[] {
  const warnings: ReactNode[] = [];
  if (whyNoHibernation.length > 0) {
    warnings.push(
      warn(
        "hibernate",
        <details>
          <summary className="cursor-pointer">{whyNoHibernation.length} cannot hibernate and are stopped instead</summary>
          <ul className="max-h-[160px] overflow-auto text-[13px]">
            {whyNoHibernation.map(({ name, why }) => (
              <li key={name}>
                {name}: {why}
              </li>
            ))}
          </ul>
        </details>,
      ),
    );
  }
  const unpriced = basis.lines.filter((line) => line.unpriced.length > 0);
  if (unpriced.length > 0) {
    const what = unpriced[0]?.unpriced.join(", ");
    warnings.push(warn("price", `${unpriced.length} have no price for ${what}; that part counts as nothing.`));
  }
  return warnings;
}
