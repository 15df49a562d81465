"use client";
import Link from "next/link";
import { useCallback, useEffect, useState } from "react";
import { ALARM_STATES, type AlarmState } from "@/core/idle";
import type { AlarmsView } from "@/services/idle";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { useLive } from "../kit/use-live";
import { dayTimePlace } from "../kit/when";

const LOOKS: Readonly<Record<AlarmState, string>> = {
  blind: "text-soft",
  watching: "",
  warned: "text-attention",
  tripped: "text-saved",
  paused: "text-soft",
};
const SIGNS: Readonly<Record<AlarmState, string>> = { blind: "◌", watching: "○", warned: "◐", tripped: "●", paused: "‖" };

/** How the alarms of a fleet stand, which are blind and why, what changed last; and their pause. */
export function AlarmsNow({ fleet, zone }: { fleet: string; zone: string }) {
  const [view, setView] = useState<AlarmsView | null>(null);
  const [shown, setShown] = useState<AlarmState | null>(null);
  const [problem, setProblem] = useState("");
  const load = useCallback(async () => {
    try {
      setView(await ask<AlarmsView>(`/api/idle/alarms?fleet=${encodeURIComponent(fleet)}`));
      setProblem("");
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }, [fleet]);
  useEffect(() => void load(), [load]);
  useLive(["round", "holds"], () => void load());
  if (!view) return <p className="text-soft">{problem || "Reading how its alarms stand…"}</p>;
  const { counts, held, alarms, changes, pauses, now } = view;
  const paused = pauses.find((pause) => pause.fleet === fleet);
  return (
    <section aria-label="Alarms now" className="flex flex-col gap-1.5">
      <h3 className="font-semibold">Alarms now</h3>
      <div className="flex flex-wrap gap-2">
        {ALARM_STATES.map((state) => (
          <button
            key={state}
            type="button"
            aria-pressed={shown === state}
            className={`rounded-brick border px-2 leading-6 ${shown === state ? "border-ink" : "border-lines"} ${LOOKS[state]}`}
            onClick={() => setShown(shown === state ? null : state)}
          >
            <span aria-hidden>{SIGNS[state]} </span>
            {counts[state]} {state}
            {state === "tripped" && held > 0 && `, ${held} of them held`}
          </button>
        ))}
      </div>
      {alarms.length === 0 && <p className="text-soft">None is watched yet: the next round looks, within a minute.</p>}
      {shown && <StateList alarms={alarms.filter(({ state }) => state === shown)} zone={zone} now={now} />}
      {paused ? (
        <PausedLine pause={paused} zone={zone} now={now} onDone={() => void load()} />
      ) : (
        <PauseForm on={{ fleet }} now={now} onDone={() => void load()} />
      )}
      {changes.length > 0 && (
        <details className="text-[13px]">
          <summary className="cursor-pointer">What changed last</summary>
          <ul className="max-h-[180px] overflow-auto">
            {changes.map(({ id, at, name, resourceId, state, why }) => (
              <li key={id} className="flex gap-2">
                <span className="w-[150px] shrink-0 text-soft">{dayTimePlace(at, zone, now)}</span>
                <Link href={`/machines/${encodeURIComponent(resourceId)}`} className="w-[100px] shrink-0 truncate">
                  {name}
                </Link>
                <b className="w-[70px] shrink-0">{state}</b>
                <span className="truncate">{why}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {problem && (
        <p role="alert" className="text-loss">
          {problem}
        </p>
      )}
    </section>
  );
}

function StateList({ alarms, zone, now }: { alarms: AlarmsView["alarms"]; zone: string; now: number }) {
  if (alarms.length === 0) return <p className="text-soft">None.</p>;
  return (
    <ul className="max-h-[180px] overflow-auto text-[13px]">
      {alarms.map(({ resourceId, rule, name, since, why }) => (
        <li key={`${resourceId} ${rule}`} className="flex gap-2">
          <Link href={`/machines/${encodeURIComponent(resourceId)}`} className="w-[110px] shrink-0 truncate">
            {name}
          </Link>
          <span className="w-[170px] shrink-0 text-soft">since {dayTimePlace(since, zone, now)}</span>
          <span>{why}</span>
        </li>
      ))}
    </ul>
  );
}

type PausedLineProps = { pause: AlarmsView["pauses"][number]; zone: string; now: number; onDone: () => void };

/** Until when alarms are paused, by whom and why; and how that ends at once. */
export function PausedLine({ pause, zone, now, onDone }: PausedLineProps) {
  const [problem, setProblem] = useState("");
  return (
    <p>
      Paused by {pause.person} until {dayTimePlace(pause.to, zone, now)}: {pause.reason}{" "}
      <Button
        look="quiet"
        className="h-[24px]!"
        onClick={async () => {
          try {
            await ask(`/api/idle/pauses/${pause.id}`, { method: "DELETE", body: {} });
          } catch (error) {
            setProblem(error instanceof AnswerError ? error.message : String(error));
          }
          onDone();
        }}
      >
        Look again now
      </Button>
      {problem && <span className="text-loss">{problem}</span>}
    </p>
  );
}

export type PauseFormProps = { on: Readonly<{ fleet: string } | { resourceId: string }>; now: number; onDone: () => void };

const HOURS = [2, 8, 24, 72, 168] as const;

/** Pauses alarms for some hours, with a word of why. */
export function PauseForm({ on, now, onDone }: PauseFormProps) {
  const [hours, setHours] = useState(8);
  const [reason, setReason] = useState("");
  const [problem, setProblem] = useState("");
  return (
    <form
      aria-label="Pause its alarms"
      className="flex flex-wrap items-end gap-2"
      onSubmit={async (event) => {
        event.preventDefault();
        try {
          await ask("/api/idle/pauses", { method: "POST", body: { on, until: now + hours * 3600, reason } });
          setReason("");
          setProblem("");
          onDone();
        } catch (error) {
          setProblem(error instanceof AnswerError ? error.message : String(error));
        }
      }}
    >
      <label className="text-[13px]">
        <span className="block font-semibold">Pause its alarms for</span>
        <select
          className="h-[30px] rounded-brick border border-ink/40 bg-raised px-1"
          value={hours}
          onChange={({ target }) => setHours(Number(target.value))}
        >
          {HOURS.map((count) => (
            <option key={count} value={count}>
              {count < 48 ? `${count} hours` : `${count / 24} days`}
            </option>
          ))}
        </select>
      </label>
      <Field
        label="because"
        className="min-w-[180px] flex-1"
        value={reason}
        onChange={({ target }) => setReason(target.value)}
        error={problem || null}
      />
      <Button type="submit">Pause</Button>
    </form>
  );
}
