"use client";
import { useDeferredValue, useMemo, useRef, useState } from "react";
import { asCount, type Calendar, HOURS_OFF, type HoursLevel, LOCAL, ON, type Row, rowSchema, type Schedule } from "@/core/hours";
import type { FleetDraft, RowDraft, ScheduleDraft } from "@/core/plan";
import type { MoneyView } from "@/core/pricing";
import type { Line, Projection } from "@/core/projection";
import type { Instant } from "@/core/time";
import type { Follower } from "@/services/rounds";
import { Button } from "../kit/button";
import { placeOf } from "../kit/when";
import { WORD, WordChoice } from "../kit/word-choice";
import { EffectiveWeek } from "../week-wall/effective-week";
import { ExceptionMonth } from "../week-wall/exception-month";
import { type BrickMinutes, type Sense, ZOOMS } from "../week-wall/geometry";
import { LineField } from "../week-wall/line-field";
import { WeekWall } from "../week-wall/week-wall";
import { AddRow } from "./add-row";
import { BrickSentence } from "./brick-sentence";
import type { CheckedSchedule } from "./draft";
import { withSchedule } from "./draft";
import { LivePrice } from "./live-price";
import { RunningChart } from "./running-chart";
import { ZoneWord } from "./zone-word";

export type WeekProps = {
  draft: FleetDraft;
  schedule: ScheduleDraft;
  checked: CheckedSchedule;
  schedules: readonly Schedule[];
  calendars: readonly Calendar[];
  now: Instant;
  /** The highest level any matched resource can have; 1 where there are only machines. */
  levelMax: number;
  regionZones: readonly string[];
  currency: string;
  /** What a stretch of minutes at a level costs the fleet. */
  view: MoneyView;
  priceOf: (level: HoursLevel, minutes: number) => string;
  /** What a core costs an hour, licence and its least number said; empty where nothing has cores. */
  coreWords: string;
  projected: readonly Line[];
  projection: Projection | null;
  /** What the fleet would cost with another week; null while that does not read. */
  reprice: (schedule: ScheduleDraft) => Projection | null;
  /** The fleets in force that follow this schedule. */
  followers: readonly Follower[];
  onDraft: (draft: FleetDraft) => void;
};

const checkedRows = new WeakMap<RowDraft, { row: Row | null }>();

/** A row's text read once: the same object gives the same row, so that bricks are drawn anew only where something changed. */
function checkedRow(draft: RowDraft): Row | null {
  let known = checkedRows.get(draft);
  if (!known) {
    const result = rowSchema.safeParse(draft);
    known = { row: result.success ? result.data : null };
    checkedRows.set(draft, known);
  }
  return known.row;
}

/** A schedule's week: where it is lived, its bricks, its line, what comes out of it and what it is worth. */
export function Week(props: WeekProps) {
  const { draft, schedule, checked, schedules, calendars, now, levelMax, regionZones, projected, projection, onDraft } = props;
  const [pointed, setPointed] = useState<{ row: number; minute: number } | null>(null);
  const [brush, setBrush] = useState<HoursLevel>(ON);
  const [brickMinutes, setBrickMinutes] = useState<BrickMinutes>(60);
  const [sense, setSense] = useState<Sense>("on");
  const [tentative, setTentative] = useState<readonly RowDraft[] | null>(null);
  const isNew = !schedules.some(({ name }) => name === schedule.name);
  const latest = useRef({ draft, schedule, onDraft });
  latest.current = { draft, schedule, onDraft };
  // Made once: what the wall and the months are given must not differ from one drawing to the next.
  const change = useMemo(
    () => (next: Partial<ScheduleDraft>) => {
      const { draft: to, schedule: from, onDraft: tell } = latest.current;
      tell(withSchedule(to, { ...from, ...next }));
    },
    [],
  );
  const changeRows = useMemo(() => (rows: readonly RowDraft[]) => change({ rows: [...rows] }), [change]);
  const rows = schedule.rows.map(checkedRow);
  const outside = outsideOf(schedule);
  const { issues, compiled } = checked;
  /** Where it is drawn: its own zone, or that of the first of the machines. */
  const zone = compiled?.schedule.zone ?? schedule.zone;
  const errorAt = (row: number) => [...issues].find(([path]) => path.startsWith(`rows.${row}.`) || path === `rows.${row}`)?.[1];
  // Colours run from off to the highest level that occurs here, not to what a resource could take.
  const most = Math.max(
    1,
    outside ?? 0,
    ...rows.flatMap((row) =>
      row && row.spans !== "off" ? row.spans.flatMap(({ level }) => (level === ON ? [] : [level as number])) : [],
    ),
  );
  const tried = useMemo(
    () => tentative && props.reprice({ ...schedule, rows: [...tentative] }),
    [tentative, schedule, props.reprice],
  );
  // What comes out of the week follows a moment later; the bricks and the price do not wait for it.
  const later = useDeferredValue(compiled);
  const calendar = calendars.find(({ name }) => name === schedule.calendar);

  return (
    <div className="flex flex-col gap-2">
      <p className="leading-7">
        Lived in <ZoneWord value={schedule.zone} onChange={(zone) => change({ zone })} />
        {schedule.zone === LOCAL ? ` zones, drawn in ${placeOf(zone)} time` : " time"}, calendar{" "}
        <WordChoice
          label="Calendar"
          value={schedule.calendar ?? ""}
          options={[{ value: "", label: "none (sat, sun)" }, ...calendars.map(({ name }) => ({ value: name, label: name }))]}
          onChange={({ target }) => {
            const { calendar: _, ...rest } = schedule;
            onDraft(withSchedule(draft, target.value === "" ? rest : { ...rest, calendar: target.value }));
          }}
        />
        ,{" "}
        <WordChoice
          label="Outside the hours"
          value={String(schedule.outside === 0 ? "off" : schedule.outside)}
          options={[
            { value: "off", label: "off" },
            { value: "leave", label: "left as it is" },
            ...(typeof schedule.outside === "number" && schedule.outside > 0
              ? [{ value: String(schedule.outside), label: `level ${schedule.outside}` }]
              : []),
          ]}
          onChange={({ target }) =>
            change({ outside: target.value === "off" || target.value === "leave" ? target.value : Number(target.value) })
          }
        />{" "}
        outside. The wall shows{" "}
        <WordChoice
          label="Wall shows"
          value={sense}
          options={[
            { value: "on", label: "on during" },
            { value: "off", label: "off during" },
          ]}
          onChange={(event) => setSense(event.target.value as Sense)}
        />{" "}
        in bricks of{" "}
        <WordChoice
          label="Bricks"
          value={String(brickMinutes)}
          options={ZOOMS.map((minutes) => ({ value: String(minutes), label: `${minutes} min` }))}
          onChange={(event) => setBrickMinutes(Number(event.target.value) as BrickMinutes)}
        />
        {levelMax > 1 && (
          <>
            , painting{" "}
            <input
              aria-label="Paint level"
              type="number"
              min={1}
              max={levelMax}
              placeholder="on"
              title="Empty: on, each at its own size"
              className={`${WORD} min-w-[34px] cursor-text`}
              value={brush === ON ? "" : String(brush)}
              onChange={({ target }) => setBrush(brushOf(target.value, levelMax))}
            />
          </>
        )}
        .
      </p>
      {props.coreWords !== "" && <p className="text-[13px]">{props.coreWords}</p>}
      <div className="flex flex-wrap gap-x-5">
        <LivePrice projection={projection} tentative={tried} currency={props.currency} view={props.view} />
        {!isNew && <UsedBy name={schedule.name} isChanged={draft.schedule !== null} followers={props.followers} />}
      </div>
      <WeekWall
        rows={schedule.rows}
        checkedRows={rows}
        outside={outside}
        brush={brush}
        most={most}
        hasCounts={levelMax > 1}
        brickMinutes={brickMinutes}
        sense={sense}
        errorAt={errorAt}
        onRows={changeRows}
        onTentative={setTentative}
        onPoint={setPointed}
      />
      <BrickSentence
        pointed={pointed}
        brickMinutes={brickMinutes}
        schedule={compiled ? { ...schedule, zone } : schedule}
        checkedRows={rows}
        outside={outside}
        now={now}
        zones={regionZones}
        priceOf={props.priceOf}
      />
      <AddRow rows={schedule.rows} onRows={changeRows} />
      <LineField schedule={later?.schedule ?? null} calendar={calendar} onRows={changeRows} />
      {later && now > 0 && (
        <div className="flex flex-wrap items-start gap-5 xl:flex-nowrap">
          <EffectiveWeek compiled={later} now={now} most={most} zones={regionZones} />
          <ExceptionMonth compiled={later} rows={schedule.rows} now={now} onRows={changeRows} />
        </div>
      )}
      {later && now > 0 && <RunningChart compiled={later} projected={projected} now={now} />}
      {issues.size > 0 && compiled === null && (
        <Button
          look="quiet"
          className="self-start"
          onClick={() => document.querySelector<HTMLElement>("[aria-invalid=true]")?.focus()}
        >
          Go to what does not read
        </Button>
      )}
    </div>
  );
}

/** Who follows the schedule; where it is changed, whom the change moves. */
function UsedBy({ name, isChanged, followers }: { name: string; isChanged: boolean; followers: readonly Follower[] }) {
  const users = followers.map(({ fleet, machines }) => `${fleet} (${machines})`).join(", ");
  const none = "No fleet in force follows it yet.";
  return (
    <p className="text-[13px]">
      {isChanged
        ? `Once put in force this changes ${name}${users === "" ? "" : ` for ${users}`}. Copy it to change this fleet alone.`
        : users === ""
          ? none
          : `Followed by ${users}.`}
    </p>
  );
}

function outsideOf({ outside }: ScheduleDraft): HoursLevel | null {
  if (outside === "leave") return null;
  return typeof outside === "number" && Number.isInteger(outside) && outside >= 0 ? asCount(outside) : HOURS_OFF;
}

/** What painting gives: on, or a count where one is meant. */
function brushOf(text: string, levelMax: number): HoursLevel {
  const count = Math.round(Number(text));
  return text === "" || !(count >= 1) ? ON : asCount(Math.min(levelMax, count));
}
