"use client";
import type { FleetDraft } from "@/core/plan";
import type { LeadBasis } from "@/services";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import type { SaidHours } from "../ledger/first-round";
import { ByTag } from "./by-tag";
import type { CheckedSchedule } from "./draft";
import { LeadField } from "./lead-field";
import { ScheduleChoice } from "./schedule-choice";
import { Week, type WeekProps } from "./week";

export type HoursCourseProps = Omit<WeekProps, "schedule" | "checked"> & {
  schedule: WeekProps["schedule"] | null;
  checked: CheckedSchedule | null;
  zoneHint: string;
  starts: LeadBasis | null;
  usualStartS: number;
  /** What each machine's tag says, where hours are named by tag. */
  said: readonly SaidHours[];
};

/** The second course: the week, where it is lived, and how it is carried out. */
export function HoursCourse(props: HoursCourseProps) {
  const { draft, schedule, checked, schedules, calendars, levelMax, zoneHint, starts, usualStartS, said, onDraft } = props;
  return (
    <div className="flex flex-col gap-3">
      <ScheduleChoice
        draft={draft}
        schedules={schedules}
        calendars={calendars}
        current={schedule}
        zoneHint={zoneHint}
        onDraft={onDraft}
      />
      {typeof draft.hours === "object" && draft.hours !== null && (
        <ByTag tagKey={draft.hours.fromTag} said={said} onKey={(fromTag) => onDraft({ ...draft, hours: { fromTag } })} />
      )}
      {schedule && checked && <Week {...props} schedule={schedule} checked={checked} />}
      <div className="flex flex-wrap items-start gap-3">
        <LeadField lead={draft.lead} starts={starts} usualS={usualStartS} onLead={(lead) => onDraft({ ...draft, lead })} />
        {levelMax > 1 && (
          <Field
            label="Own size of groups"
            type="number"
            min={1}
            className="w-[130px]"
            placeholder="as before its plan"
            title="What on means for the groups of this fleet; empty: the greatest each had in the 28 days before its first plan"
            value={draft.size === undefined ? "" : String(draft.size)}
            onChange={({ target }) => onDraft(withSize(draft, target.value))}
          />
        )}
        <Field
          label="Keep starts by hand, min"
          type="number"
          min={0}
          max={1440}
          className="w-[150px]"
          title="What a person starts outside the hours runs so long before the hours count again; 0: not at all"
          value={String(draft.grace)}
          onChange={({ target }) =>
            onDraft({ ...draft, grace: Math.max(0, Math.min(1440, Math.round(Number(target.value) || 0))) })
          }
        />
        <Choice
          label="Off means"
          className="w-[120px]"
          value={draft.offAction}
          options={[
            { value: "stop", label: "stop" },
            { value: "hibernate", label: "hibernate" },
            ...(levelMax > 1 || draft.offAction === "drop" ? [{ value: "drop", label: "drop" }] : []),
          ]}
          onChange={(event) => onDraft({ ...draft, offAction: event.target.value as FleetDraft["offAction"] })}
        />
        <Choice
          label="Starts"
          className="w-[120px]"
          value={draft.starts}
          options={[
            { value: "plan", label: "by plan" },
            { value: "hand", label: "by hand only" },
          ]}
          onChange={(event) => onDraft({ ...draft, starts: event.target.value as FleetDraft["starts"] })}
        />
        <Choice
          label="Enforce"
          className="w-[150px]"
          value={draft.enforce}
          options={[
            { value: "always", label: "at every round" },
            { value: "edges", label: "only at edges" },
          ]}
          onChange={(event) => onDraft({ ...draft, enforce: event.target.value as FleetDraft["enforce"] })}
        />
      </div>
    </div>
  );
}

function withSize({ size: _, ...draft }: FleetDraft, text: string): FleetDraft {
  const size = Math.round(Number(text));
  return text === "" || !(size >= 1) ? draft : { ...draft, size: Math.min(1_000_000, size) };
}
