"use client";
import type { FleetDraft } from "@/core/plan";
import type { LeadBasis } from "@/services";
import { Choice } from "../kit/choice";
import type { SaidHours } from "../ledger/reckon";
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
