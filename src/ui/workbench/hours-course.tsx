"use client";
import { useState } from "react";
import { asLevel, type Calendar, type Level, type Row, rowSchema, type Schedule } from "@/core/hours";
import type { FleetDraft, ScheduleDraft } from "@/core/plan";
import type { Projected } from "@/core/projection";
import type { Instant } from "@/core/time";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { EffectiveWeek } from "../week-wall/effective-week";
import { WeekWall } from "../week-wall/week-wall";
import { BrickSentence } from "./brick-sentence";
import type { CheckedSchedule } from "./draft";
import { withSchedule } from "./draft";
import { RunningChart } from "./running-chart";
import { ScheduleChoice } from "./schedule-choice";
import { ZoneField } from "./zone-field";

const DAY_KEYS = ["workdays", "restdays", "mon", "tue", "wed", "thu", "fri", "sat", "sun", "daily", "holidays"] as const;

export type HoursCourseProps = {
  draft: FleetDraft;
  schedule: ScheduleDraft | null;
  checked: CheckedSchedule | null;
  schedules: readonly Schedule[];
  calendars: readonly Calendar[];
  now: Instant;
  /** The highest level any matched resource can have; 1 where there are only machines. */
  levelMax: number;
  zoneHint: string;
  regionZones: readonly string[];
  priceOf: (level: Level) => string;
  projected: readonly Projected[];
  onDraft: (draft: FleetDraft) => void;
};

/** The second course: the week, where it is lived, and how it is carried out. */
export function HoursCourse(props: HoursCourseProps) {
  const { draft, schedule, checked, schedules, calendars, levelMax, zoneHint, onDraft } = props;
  return (
    <div className="flex flex-col gap-3">
      <ScheduleChoice draft={draft} schedules={schedules} current={schedule} zoneHint={zoneHint} onDraft={onDraft} />
      {typeof draft.hours === "object" && draft.hours !== null && (
        <p>Each machine names its own hours in the tag {draft.hours.fromTag}.</p>
      )}
      {schedule && checked && <Week {...props} schedule={schedule} checked={checked} />}
      <div className="flex flex-wrap items-end gap-3">
        <Field
          label="Lead, minutes"
          type="number"
          min={0}
          max={1440}
          className="w-[110px]"
          value={String(draft.lead)}
          onChange={(event) =>
            onDraft({ ...draft, lead: Math.max(0, Math.min(1440, Math.round(Number(event.target.value) || 0))) })
          }
        />
        <Choice
          label="Off means"
          className="w-[120px]"
          value={draft.offAction}
          options={[
            { value: "stop", label: "stop" },
            { value: "hibernate", label: "hibernate" },
            ...(levelMax > 1 ? [{ value: "drop", label: "drop" }] : []),
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
          className="w-[170px]"
          value={draft.enforce}
          options={[
            { value: "always", label: "at every round" },
            { value: "edges", label: "only at edges" },
          ]}
          onChange={(event) => onDraft({ ...draft, enforce: event.target.value as FleetDraft["enforce"] })}
        />
      </div>
      {calendars.length === 0 && <p className="text-soft">No calendars yet: rest days are Saturday and Sunday.</p>}
    </div>
  );
}

type WeekProps = HoursCourseProps & { schedule: ScheduleDraft; checked: CheckedSchedule };

function Week({
  draft,
  schedule,
  checked,
  schedules,
  calendars,
  now,
  levelMax,
  regionZones,
  priceOf,
  projected,
  onDraft,
}: WeekProps) {
  const [pointed, setPointed] = useState<{ row: number; minute: number } | null>(null);
  const [brush, setBrush] = useState(1);
  const isNew = !schedules.some(({ name }) => name === schedule.name);
  const change = (next: Partial<ScheduleDraft>) => onDraft(withSchedule(draft, { ...schedule, ...next }));
  const checkedRows: (Row | null)[] = schedule.rows.map((row) => {
    const result = rowSchema.safeParse(row);
    return result.success ? result.data : null;
  });
  const outside =
    schedule.outside === "leave"
      ? null
      : schedule.outside === "off"
        ? asLevel(0)
        : Number.isInteger(schedule.outside)
          ? asLevel(Number(schedule.outside))
          : asLevel(0);
  const free = DAY_KEYS.filter((key) => !schedule.rows.some(({ day }) => day === key));
  const errorAt = (row: number) =>
    [...checked.issues].find(([path]) => path.startsWith(`rows.${row}.`) || path === `rows.${row}`)?.[1];
  // Colours run from off to the highest level that occurs here, not to what a resource could take.
  const most = Math.max(
    1,
    outside ?? 0,
    ...checkedRows.flatMap((row) => (row && row.spans !== "off" ? row.spans.map(({ level }) => level as number) : [])),
  );

  return (
    <div className="flex flex-col gap-2">
      <div className="flex flex-wrap items-start gap-2">
        <ZoneField value={schedule.zone} onChange={(zone) => change({ zone })} />
        <Choice
          label="Calendar"
          className="w-[130px]"
          value={schedule.calendar ?? ""}
          options={[{ value: "", label: "none (sat, sun)" }, ...calendars.map(({ name }) => ({ value: name, label: name }))]}
          onChange={({ target }) => {
            const { calendar: _, ...rest } = schedule;
            onDraft(withSchedule(draft, target.value === "" ? rest : { ...rest, calendar: target.value }));
          }}
        />
        <Choice
          label="Outside the hours"
          className="w-[130px]"
          value={String(schedule.outside === 0 ? "off" : schedule.outside)}
          options={[
            { value: "off", label: "off" },
            { value: "leave", label: "leave as it is" },
            ...(typeof schedule.outside === "number" && schedule.outside > 0
              ? [{ value: String(schedule.outside), label: `level ${schedule.outside}` }]
              : []),
          ]}
          onChange={({ target }) =>
            change({ outside: target.value === "off" || target.value === "leave" ? target.value : Number(target.value) })
          }
        />
        {levelMax > 1 && (
          <Field
            label="Paint level"
            type="number"
            min={1}
            max={levelMax}
            className="w-[90px]"
            value={String(brush)}
            onChange={(event) => setBrush(Math.max(1, Math.min(levelMax, Math.round(Number(event.target.value) || 1))))}
          />
        )}
      </div>
      {!isNew && draft.schedule && (
        <p className="text-[13px]">
          This changes {schedule.name} for every fleet that follows it, once put in force. Copy it to change this fleet alone.
        </p>
      )}
      <WeekWall
        rows={schedule.rows}
        checkedRows={checkedRows}
        outside={outside}
        brush={asLevel(Math.min(brush, Math.max(1, levelMax)))}
        most={most}
        errorAt={errorAt}
        onRows={(rows) => change({ rows: [...rows] })}
        onPoint={setPointed}
      />
      <BrickSentence
        pointed={pointed}
        schedule={schedule}
        checkedRows={checkedRows}
        outside={outside}
        now={now}
        zones={regionZones}
        priceOf={priceOf}
      />
      <div className="flex items-center gap-2">
        <span className="text-[13px] text-soft">Add a row for</span>
        {free.map((key) => (
          <Button
            key={key}
            className="h-6! px-2! text-[13px]"
            onClick={() => change({ rows: [...schedule.rows, { day: key, spans: ["08:00-18:00"] }] })}
          >
            {key}
          </Button>
        ))}
      </div>
      {checked.compiled && <EffectiveWeek compiled={checked.compiled} now={now} most={most} />}
      {checked.compiled && now > 0 && <RunningChart compiled={checked.compiled} projected={projected} now={now} />}
    </div>
  );
}
