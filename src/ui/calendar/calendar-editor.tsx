"use client";
import Link from "next/link";
import { useState } from "react";
import { dayNumber, WEEKDAYS, weekdayIndex } from "@/core/time";
import type { OpenCalendar } from "@/services/plans";
import type { Impact } from "@/services/rounds";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { RemoveButton } from "../kit/remove-button";
import { withDay, withHolidays, withRest } from "./calendar-draft";
import { TakeHolidays } from "./take-holidays";
import { type EditedCalendar, useCalendar } from "./use-calendar";
import { YearMonths } from "./year-months";

/** A calendar: which weekdays rest, which dates are holidays. Nothing counts until it is saved. */
export function CalendarEditor(props: OpenCalendar) {
  const { stored, zones, today, countries } = props;
  const edited = useCalendar(stored);
  const { draft, change } = edited;
  const [year, setYear] = useState(Number(today.slice(0, 4)));
  return (
    <div className="px-4 py-3">
      <p className="text-[13px]">
        <Link href="/setup">Setup</Link>
      </p>
      <Heading {...props} edited={edited} />
      <Saving edited={edited} />
      <div className="mt-2 grid grid-cols-1 lg:grid-cols-[360px_minmax(0,1fr)] gap-8">
        <div className="flex flex-col gap-4">
          {!stored && (
            <Field
              label="Name"
              className="w-[260px]"
              placeholder="oslo"
              value={draft.name}
              onChange={(event) => change({ ...draft, name: event.target.value })}
            />
          )}
          <RestDays edited={edited} />
          <section aria-label="Take holidays from elsewhere">
            <TakeHolidays countries={countries} zones={zones} onHolidays={(holidays) => change(withHolidays(draft, holidays))} />
          </section>
          <Holidays edited={edited} year={year} />
        </div>
        <section aria-label="The year">
          <div className="mb-2 flex items-center gap-3">
            <Button onClick={() => setYear(year - 1)} aria-label={`To ${year - 1}`}>
              ‹
            </Button>
            <h2 className="font-semibold text-[15px]">{year}</h2>
            <Button onClick={() => setYear(year + 1)} aria-label={`To ${year + 1}`}>
              ›
            </Button>
            <span className="text-[13px] text-soft">Press a day to make it a holiday or take it back.</span>
          </div>
          <YearMonths
            year={year}
            rest={draft.rest}
            days={draft.days}
            today={today}
            onDay={(date) => change(withDay(draft, date))}
          />
        </section>
      </div>
    </div>
  );
}

type PartProps = Readonly<{ edited: EditedCalendar }>;

/** Which calendar it is, who uses it, and the presses for all of it. */
function Heading({ stored, schedules, followers, edited }: OpenCalendar & PartProps) {
  const { draft } = edited;
  const machines = followers.reduce((sum, one) => sum + one.machines, 0);
  return (
    <div className="mb-2 flex flex-wrap items-center gap-3">
      <h1 className="font-medium text-[20px] leading-7">{stored ? `Calendar ${draft.name}` : "New calendar"}</h1>
      <span className="text-soft">
        {schedules.length === 0
          ? "no schedule uses it yet"
          : `used by ${schedules.join(", ")}; ${machines} ${machines === 1 ? "machine follows" : "machines follow"} it`}
      </span>
      {stored && schedules.length === 0 && (
        <RemoveButton
          isAlone
          name={stored.calendar.name}
          path={`/api/calendars/${encodeURIComponent(stored.calendar.name)}`}
          body={{ version: stored.version }}
          after="/setup"
        />
      )}
      <div className="flex-1" />
      <Button onClick={edited.undo} disabled={edited.history.past.length === 0}>
        Undo
      </Button>
      <Button onClick={edited.redo} disabled={edited.history.future.length === 0}>
        Redo
      </Button>
      <Button
        look="strong"
        onClick={() => void edited.preview()}
        disabled={edited.isBusy || !edited.isChanged || draft.name.trim() === ""}
      >
        {edited.isBusy ? "Looking…" : "Save…"}
      </Button>
    </div>
  );
}

/** What saving it would move, and what came of it. */
function Saving({ edited: { problem, moves, isBusy, isSaved, save, notYet } }: PartProps) {
  return (
    <>
      {problem && <Notice kind="error">{[problem.message, ...problem.fields.map(({ message }) => message)].join(" ")}</Notice>}
      {moves && (
        <Notice
          kind={moves.stops.length > 0 ? "warning" : "fine"}
          action={
            <>
              <Button look="strong" onClick={() => void save()} disabled={isBusy}>
                {moves.stops.length > 0 ? `Save and stop ${moves.stops.length}` : "Save it"}
              </Button>
              <Button look="quiet" onClick={notYet}>
                Not yet
              </Button>
            </>
          }
        >
          <MovesSentence moves={moves} />
        </Notice>
      )}
      {isSaved && <Notice kind="fine">Saved. The next round goes by it.</Notice>}
    </>
  );
}

function RestDays({ edited: { draft, change } }: PartProps) {
  return (
    <fieldset>
      <legend className="mb-0.5 font-semibold text-[13px]">Days of rest, every week</legend>
      <div className="flex gap-1">
        {WEEKDAYS.map((day) => (
          <button
            key={day}
            type="button"
            aria-pressed={draft.rest.includes(day)}
            onClick={() => change(withRest(draft, day))}
            className={`h-[30px] w-[44px] rounded-brick border ${draft.rest.includes(day) ? "border-ink bg-ink font-semibold text-paper" : "border-ink/40 bg-raised"}`}
          >
            {day}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

/** The holidays of one year, each to be taken back. */
function Holidays({ edited: { draft, change }, year }: PartProps & Readonly<{ year: number }>) {
  const thisYear = Object.entries(draft.days)
    .filter(([date]) => date.startsWith(String(year)))
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return (
    <section aria-label={`Holidays of ${year}`}>
      <h2 className="font-semibold text-[15px]">
        {thisYear.length} holidays in {year}, {Object.keys(draft.days).length} in all
      </h2>
      <ul className="max-h-[230px] overflow-auto">
        {thisYear.map(([date, name]) => (
          <li key={date} className="flex h-[26px] items-center gap-2 border-lines border-b">
            <span className="w-[112px]">
              {WEEKDAYS[weekdayIndex(dayNumber(date))]} {date}
            </span>
            <span className="min-w-0 flex-1 truncate text-soft">{name}</span>
            <button
              type="button"
              aria-label={`${date} is no holiday`}
              className="px-1.5 text-soft hover:text-loss"
              onClick={() => change(withDay(draft, date))}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function MovesSentence({ moves: { followers, stops, starts, resizes } }: { moves: Impact }) {
  if (followers.length === 0) return <>No machine in force follows it, so nothing moves.</>;
  const changes = [
    stops.length > 0 ? `stops ${stops.length} (${stops.slice(0, 6).join(", ")}${stops.length > 6 ? ", …" : ""})` : "",
    starts.length > 0 ? `starts ${starts.length}` : "",
    resizes.length > 0 ? `resizes ${resizes.length}` : "",
  ].filter(Boolean);
  return (
    <>
      Followed by {followers.map(({ fleet, machines }) => `${fleet} (${machines})`).join(", ")}. The next round{" "}
      {changes.length > 0 ? <b>{changes.join(", ")}</b> : "changes nothing by it"}.
    </>
  );
}
