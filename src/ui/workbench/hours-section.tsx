"use client";
import type { FleetDraft } from "@/core/plan";
import type { LeadBasis } from "@/services/cost";
import { WORD, WordChoice } from "../kit/word-choice";
import { WordNumber } from "../kit/word-number";
import type { SaidHours } from "../ledger/first-round";
import { ByTag } from "./by-tag";
import type { CheckedSchedule } from "./draft";
import { LeadWords } from "./lead-words";
import { type LivedIn, ScheduleChoice } from "./schedule-choice";
import { Week, type WeekProps } from "./week";

export type HoursSectionProps = Omit<WeekProps, "schedule" | "checked"> & {
  schedule: WeekProps["schedule"] | null;
  checked: CheckedSchedule | null;
  /** The zones where the people of its machines live, most machines first; null while that is not known yet. */
  livedIn: readonly LivedIn[] | null;
  zoneHint: string;
  starts: LeadBasis | null;
  usualStartS: number;
  /** What each machine's tag says, where hours are named by tag. */
  said: readonly SaidHours[];
};

/** The week, where it is lived, and how it is carried out. */
export function HoursSection(props: HoursSectionProps) {
  const { draft, schedule, checked, schedules, calendars, livedIn, zoneHint, said, onDraft } = props;
  return (
    <div className="flex flex-col gap-3">
      <ScheduleChoice
        draft={draft}
        schedules={schedules}
        calendars={calendars}
        current={schedule}
        livedIn={livedIn}
        zoneHint={zoneHint}
        onDraft={onDraft}
      />
      {typeof draft.hours === "object" && draft.hours !== null && (
        <ByTag tagKey={draft.hours.fromTag} said={said} onKey={(fromTag) => onDraft({ ...draft, hours: { fromTag } })} />
      )}
      {schedule && checked && <Week {...props} schedule={schedule} checked={checked} />}
      <CarriedOut {...props} />
    </div>
  );
}

/** How the hours are carried out, in one sentence whose words are pressed to be changed. */
function CarriedOut({ draft, levelMax, starts, usualStartS, onDraft }: HoursSectionProps) {
  return (
    <p className="leading-7">
      Machines are started{" "}
      <LeadWords lead={draft.lead} starts={starts} usualS={usualStartS} onLead={(lead) => onDraft({ ...draft, lead })} />,{" "}
      <WordChoice
        label="Starts"
        value={draft.starts}
        options={[
          { value: "plan", label: "by plan" },
          { value: "hand", label: "by hand only" },
        ]}
        onChange={(event) => onDraft({ ...draft, starts: event.target.value as FleetDraft["starts"] })}
      />
      . Off means{" "}
      <WordChoice
        label="Off means"
        value={draft.offAction}
        options={[
          { value: "stop", label: "stop" },
          { value: "hibernate", label: "hibernate" },
          ...(levelMax > 1 || draft.offAction === "drop" ? [{ value: "drop", label: "drop" }] : []),
        ]}
        onChange={(event) => onDraft({ ...draft, offAction: event.target.value as FleetDraft["offAction"] })}
      />
      , kept to{" "}
      <WordChoice
        label="Enforce"
        value={draft.enforce}
        options={[
          { value: "always", label: "at every round" },
          { value: "edges", label: "only at edges" },
        ]}
        onChange={(event) => onDraft({ ...draft, enforce: event.target.value as FleetDraft["enforce"] })}
      />
      . What a person starts outside the hours runs for{" "}
      <WordNumber
        label="Keep starts by hand, minutes"
        title="So long before the hours count again; 0: not at all"
        value={draft.grace}
        max={1440}
        onNumber={(grace) => onDraft({ ...draft, grace })}
      />{" "}
      min.
      {levelMax > 1 && (
        <>
          {" "}
          On, for a group, is{" "}
          <input
            aria-label="Own size of groups"
            type="number"
            min={1}
            placeholder="what it had"
            title="Empty: the greatest each had in the 28 days before its first plan"
            className={`${WORD} min-w-[88px] cursor-text`}
            value={draft.size === undefined ? "" : String(draft.size)}
            onChange={({ target }) => onDraft(withSize(draft, target.value))}
          />
          .
        </>
      )}
    </p>
  );
}

function withSize({ size: _, ...draft }: FleetDraft, text: string): FleetDraft {
  const size = Math.round(Number(text));
  return text === "" || !(size >= 1) ? draft : { ...draft, size: Math.min(1_000_000, size) };
}
