"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { DAY_S, type Instant, localTime, resolveLocal, weekdayIndex } from "@/core/time";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { Follow } from "../kit/follow";
import { localText, tryParseLocal } from "../kit/local-time";
import { Notice } from "../kit/notice";
import { useUntilTyped } from "../kit/use-until-typed";
import { placeOf } from "../kit/when";

export type HoldFormProps = {
  on: Readonly<{ resourceId: string } | { fleet: string }>;
  /** What is held, as the reader knows it. */
  name: string;
  /** The highest level it can have; 1 for a machine. */
  levelMax: number;
  level: number;
  now: Instant;
  zone: string;
};

/** Keeps a machine or a fleet on, or off, until a time that has to be named. */
export function HoldForm({ on, name, levelMax, level, now, zone }: HoldFormProps) {
  const router = useRouter();
  const presets = presetsOf(now, zone);
  const [isOff, setIsOff] = useState(false);
  const [height, setHeight] = useState(String(Math.max(1, level)));
  const [until, setUntil] = useState(localText(presets[0]?.at ?? now, zone));
  const [reason, setReason] = useState("");
  const [isBusy, setIsBusy] = useState(false);
  const [problem, setProblem] = useState<AnswerError | null>(null);
  useUntilTyped(problem !== null, () => setProblem(null));
  const issue = (path: string) => problem?.fields.find((field) => field.path === path)?.message;
  const end = tryParseLocal(until, zone);
  /** Whom it would stop, once that was asked; a press after that places it. */
  const [stops, setStops] = useState<readonly string[] | null>(null);
  const [placedAt, setPlacedAt] = useState<Instant | null>(null);
  const level0 = isOff ? 0 : Number(height);
  const asksFirst = "fleet" in on && isOff;

  async function place() {
    setIsBusy(true);
    setProblem(null);
    try {
      if (asksFirst && stops === null) {
        const answer = await ask<{ stops: string[] }>("/api/holds/preview", {
          method: "POST",
          body: { fleet: on.fleet, level: level0 },
        });
        setStops(answer.stops);
        setIsBusy(false);
        return;
      }
      const placed = await ask<{ from: number }>("/api/holds", {
        method: "POST",
        body: { on, level: level0, until: end, reason },
      });
      setPlacedAt(placed.from);
      setReason("");
      setStops(null);
      router.refresh();
    } catch (error) {
      setProblem(error instanceof AnswerError ? error : new AnswerError(String(error), ""));
    }
    setIsBusy(false);
  }

  return (
    <form
      className="flex flex-col gap-2"
      aria-label={`Hold ${name}`}
      onSubmit={(event) => {
        event.preventDefault();
        void place();
      }}
    >
      <div className="flex flex-wrap items-start gap-2">
        <Choice
          label="Keep it"
          className="w-[80px]"
          value={isOff ? "off" : "on"}
          options={[
            { value: "on", label: "on" },
            { value: "off", label: "off" },
          ]}
          onChange={(event) => {
            setIsOff(event.target.value === "off");
            setStops(null);
          }}
        />
        {levelMax > 1 && !isOff && (
          <Field
            label="At level"
            type="number"
            min={1}
            max={levelMax}
            className="w-[80px]"
            value={height}
            onChange={(event) => setHeight(event.target.value)}
            error={issue("level")}
          />
        )}
        <Field
          label={`Until, ${placeOf(zone)} time`}
          className="w-[170px]"
          value={until}
          onChange={(event) => setUntil(event.target.value)}
          error={issue("until") ?? (end === null ? "write it as 2027-03-11 22:00" : null)}
        />
        <Field
          label="Why"
          className="w-[170px]"
          placeholder="for whoever wonders"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          error={issue("reason")}
        />
        <Button type="submit" className="mt-[21px]" disabled={isBusy || end === null || reason.trim() === ""}>
          {isBusy ? "Placing…" : stops !== null && stops.length > 0 ? `Hold off and stop ${stops.length}` : "Place hold"}
        </Button>
      </div>
      {asksFirst && stops !== null && (
        <Notice
          kind="warning"
          action={
            <Button look="quiet" onClick={() => setStops(null)}>
              Not yet
            </Button>
          }
        >
          {stops.length === 0 ? (
            "It stops nothing now: nothing of it runs that may be touched."
          ) : (
            <details open={stops.length <= 12}>
              <summary className="cursor-pointer">
                It stops <b>{stops.length}</b> with the next round. Press again to place it.
              </summary>
              <p className="text-[13px] text-soft">{stops.join(", ")}</p>
            </details>
          )}
        </Notice>
      )}
      <div className="flex flex-wrap gap-2 text-[13px]">
        {presets.map(({ label, at }) => (
          <Button key={label} look="quiet" className="h-6! px-1!" onClick={() => setUntil(localText(at, zone))}>
            {label}
          </Button>
        ))}
      </div>
      {placedAt !== null && "resourceId" in on && (
        <p className="text-[13px]">
          Held. <Follow key={placedAt} resourceId={on.resourceId} since={placedAt} />
        </p>
      )}
      {problem && problem.fields.length === 0 && <Notice kind="error">{problem.message}</Notice>}
    </form>
  );
}

/** The ends people ask for: in a few hours, this evening, tomorrow morning, Monday. */
function presetsOf(now: Instant, zone: string): readonly { label: string; at: Instant }[] {
  const today = localTime(zone, now).day;
  const monday = today + 7 - weekdayIndex(today);
  const at = (day: number, hour: number) => resolveLocal(zone, day, hour * 3600);
  return [
    { label: "for 4 hours", at: now + 4 * 3600 },
    { label: "until 22:00", at: at(today, 22) },
    { label: "until tomorrow 08:00", at: at(today + 1, 8) },
    { label: "until Monday 08:00", at: at(monday, 8) },
    { label: "for a week", at: now + 7 * DAY_S },
  ].filter((preset) => preset.at > now);
}
