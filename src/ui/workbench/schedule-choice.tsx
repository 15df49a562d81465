"use client";
import { useState } from "react";
import { type Calendar, LOCAL, type Schedule, scheduleToFile } from "@/core/hours";
import type { FleetDraft, ScheduleDraft } from "@/core/plan";
import { isZone } from "@/core/time";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { placeOf } from "../kit/when";
import { WordChoice } from "../kit/word-choice";
import { withSchedule } from "./draft";
import { ZoneField } from "./zone-field";

/** No schedule has this name: names are trimmed. */
const BY_TAG = " by tag";

export type ScheduleChoiceProps = {
  draft: FleetDraft;
  schedules: readonly Schedule[];
  calendars: readonly Calendar[];
  current: ScheduleDraft | null;
  /** The zones where the people of its machines live, most machines first; null while that is not known yet. */
  livedIn: readonly LivedIn[] | null;
  /** The zone to begin with where no machine says one. */
  zoneHint: string;
  onDraft: (draft: FleetDraft) => void;
};

/** A zone in which people of a fleet's machines live, and how many machines that is. */
export type LivedIn = Readonly<{ zone: string; machines: number }>;

/** Which schedule the fleet follows: one that exists, a copy for another place, or a new week. */
export function ScheduleChoice({ draft, schedules, calendars, current, livedIn: known, zoneHint, onDraft }: ScheduleChoiceProps) {
  const [isCopying, setIsCopying] = useState(false);
  const [isAsking, setIsAsking] = useState(false);
  const livedIn = known ?? [];
  const isByTag = typeof draft.hours === "object" && draft.hours !== null;
  const named = isByTag ? BY_TAG : typeof draft.hours === "string" ? draft.hours : "";
  const options = [
    { value: "", label: "none" },
    ...schedules.map(({ name, zone }) => ({ value: name, label: `${name} (${zone})` })),
  ];
  options.push({ value: BY_TAG, label: "named by each machine's tag" });
  if (!isByTag && named !== "" && !schedules.some(({ name }) => name === named))
    options.push({ value: named, label: `${named} (new)` });
  const choose = (name: string) => {
    if (draft.schedule?.name === name) return;
    if (name === BY_TAG) return onDraft({ ...draft, hours: { fromTag: "hours" }, schedule: null });
    onDraft({ ...draft, hours: name === "" ? null : name, schedule: null });
  };
  const startNew = (zone: string) => {
    setIsAsking(false);
    const calendar = calendarOf(zone === LOCAL ? zoneHint : zone, { schedules, calendars });
    onDraft(
      withSchedule(draft, {
        name: freeName(`${draft.name}-hours`, schedules),
        zone,
        ...(calendar === null ? {} : { calendar }),
        outside: "off",
        rows: [{ day: "workdays", spans: ["08:00-18:00"] }],
      }),
    );
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span>
        Hours <WordChoice label="Schedule" value={named} options={options} onChange={(event) => choose(event.target.value)} />
      </span>
      <span className="flex-1" />
      <Button
        look="quiet"
        // Whose hours these are is not known before its machines are.
        disabled={known === null}
        aria-expanded={livedIn.length > 1 ? isAsking : undefined}
        onClick={() => (livedIn.length > 1 ? setIsAsking(!isAsking) : startNew(zoneHint))}
      >
        New week
      </Button>
      <Button look="quiet" onClick={() => setIsCopying(!isCopying)} aria-expanded={isCopying} disabled={schedules.length === 0}>
        Copy another…
      </Button>
      {isAsking && (
        <fieldset className="flex w-full flex-wrap items-center gap-2 rounded-brick border border-lines p-2">
          <legend className="sr-only">Where the new week is lived</legend>
          <span>Its people live in several zones. Whose hours are these?</span>
          {livedIn.map(({ zone, machines }) => (
            <Button key={zone} onClick={() => startNew(zone)}>
              {placeOf(zone)} time ({machines})
            </Button>
          ))}
          <Button onClick={() => startNew(LOCAL)}>Each machine's own zone</Button>
        </fieldset>
      )}
      {isCopying && (
        <CopyForm
          schedules={schedules}
          calendars={calendars}
          from={current?.name ?? schedules[0]?.name ?? ""}
          name={freeName(`${draft.name}-hours`, schedules)}
          zone={zoneHint}
          onCopy={(copy) => {
            setIsCopying(false);
            onDraft(withSchedule(draft, copy));
          }}
        />
      )}
    </div>
  );
}

/** The calendar that is named after a zone's place, or that hours in it go by already; null where there is none. */
function calendarOf(
  zone: string,
  { schedules, calendars }: { schedules: readonly Schedule[]; calendars: readonly Calendar[] },
): string | null {
  const used = schedules.find((schedule) => schedule.zone === zone && schedule.calendar !== undefined)?.calendar;
  const place = placeOf(zone).toLowerCase();
  return calendars.find(({ name }) => name.toLowerCase() === place)?.name ?? used ?? null;
}

function freeName(wanted: string, schedules: readonly Schedule[]): string {
  let name = wanted;
  for (let n = 2; schedules.some((schedule) => schedule.name === name); n++) name = `${wanted}-${n}`;
  return name;
}

type CopyFormProps = {
  schedules: readonly Schedule[];
  calendars: readonly Calendar[];
  from: string;
  name: string;
  zone: string;
  onCopy: (copy: ScheduleDraft) => void;
};

/** One step from a schedule to its like in another place. */
function CopyForm({ schedules, calendars, from, name, zone, onCopy }: CopyFormProps) {
  const [source, setSource] = useState(from);
  const [newName, setNewName] = useState(name);
  const [newZone, setNewZone] = useState(zone);
  const [calendar, setCalendar] = useState(schedules.find((schedule) => schedule.name === from)?.calendar ?? "");
  const isTaken = schedules.some((schedule) => schedule.name === newName.trim());
  const isKnown = isZone(newZone);
  return (
    <div className="flex w-full flex-wrap items-start gap-2 rounded-brick border border-lines p-2">
      <Choice
        label="Copy of"
        className="w-[190px]"
        value={source}
        options={schedules.map((schedule) => ({ value: schedule.name, label: schedule.name }))}
        onChange={(event) => {
          setSource(event.target.value);
          setCalendar(schedules.find((schedule) => schedule.name === event.target.value)?.calendar ?? "");
        }}
      />
      <Field
        label="Name of the copy"
        className="w-[190px]"
        value={newName}
        onChange={(event) => setNewName(event.target.value)}
        error={isTaken ? "there is one of that name" : newName.trim() === "" ? "needs a name" : null}
      />
      <ZoneField value={newZone} onChange={setNewZone} label="Zone of the copy" />
      <Choice
        label="Calendar of the copy"
        className="w-[140px]"
        value={calendar}
        options={[
          { value: "", label: "none (sat, sun)" },
          ...calendars.map((known) => ({ value: known.name, label: known.name })),
        ]}
        onChange={(event) => setCalendar(event.target.value)}
      />
      <Button
        className="mt-[23px]"
        disabled={isTaken || !isKnown || newName.trim() === ""}
        onClick={() => {
          const original = schedules.find((schedule) => schedule.name === source);
          if (!original) return;
          const { calendar: _, ...copy } = scheduleToFile(original) as ScheduleDraft;
          onCopy({ ...copy, name: newName.trim(), zone: newZone, ...(calendar === "" ? {} : { calendar }) });
        }}
      >
        Make the copy
      </Button>
    </div>
  );
}
