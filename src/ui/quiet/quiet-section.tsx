"use client";
import { useEffect, useMemo, useState } from "react";
import type { Picture as Shown } from "@/browser/idle";
import { type Condition, type IdleRule, lateWarnings, lateWords } from "@/core/idle";
import type { Instant } from "@/core/time";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { AlarmsNow } from "./alarms-now";
import { figuresOf, type TripOf, tripsOf } from "./figures";
import { Picture } from "./picture";
import { PRESETS } from "./presets";
import { RuleSentence } from "./rule-sentence";
import { SweepMap } from "./sweep-map";
import { type Trials, tripWords } from "./use-quiet";

export type QuietSectionProps = {
  fleet: string;
  isInForce: boolean;
  rules: readonly IdleRule[];
  /** The rules as shown: while something is dragged, as it would be. */
  shown: readonly IdleRule[];
  metrics: readonly string[];
  hasHours: boolean;
  trials: Trials;
  zone: string;
  now: Instant;
  currency: string;
  onRules: (rules: readonly IdleRule[]) => void;
  onPreview: (rules: readonly IdleRule[] | null) => void;
};

const BINS = 672;
const AROUND_S = 4 * 3600;

/** The third course: what counts as idle, seen on the last weeks before it is on. */
export function QuietSection(props: QuietSectionProps) {
  const { fleet, isInForce, rules, shown, metrics, hasHours, trials, zone, now, currency, onRules, onPreview } = props;
  const [at, setAt] = useState<Readonly<{ rule: number; condition: number }>>({ rule: 0, condition: 0 });
  const [resource, setResource] = useState<number | null>(null);
  const [zoom, setZoom] = useState<TripOf | null>(null);
  const rule = shown[at.rule] ?? shown[0];
  const r = rule === shown[at.rule] ? at.rule : 0;
  const condition = rule?.conditions[at.condition] ?? rule?.conditions[0];
  const c = condition === rule?.conditions[at.condition] ? at.condition : 0;
  const picture = usePicture(trials, condition?.metric ?? null, zoom ? zoom.resource : resource, zoom);
  const { head, tried, worth } = trials;
  const names = useMemo(() => head?.resources.map(({ name }) => name) ?? [], [head]);
  const figures = tried && worth ? figuresOf(tried, worth.rates, worth.edges.length - 1) : null;
  const trips = useMemo(() => {
    const all = tried ? tripsOf(tried, zoom ? zoom.resource : resource) : [];
    return zoom
      ? all.filter(
          ({ trippedAt, backAt }) => trippedAt < zoom.trippedAt + AROUND_S && (backAt ?? now) > zoom.trippedAt - AROUND_S,
        )
      : all;
  }, [tried, resource, zoom, now]);
  const setRule = (i: number, next: IdleRule) => onRules(rules.map((one, k) => (k === i ? next : one)));
  const withCondition = (next: Condition) =>
    rule ? { ...rule, conditions: rule.conditions.map((one, k) => (k === c ? next : one)) } : rule;
  if (rules.length === 0)
    return (
      <div className="flex flex-col gap-2">
        <p>
          No idle rule yet: what its hours leave on stays on, whoever is there. Begin with one of these and see what it would have
          done.
        </p>
        <ul className="flex flex-wrap gap-2">
          {PRESETS.map(({ name, words, rule: first }) => (
            <li key={name} className="max-w-[270px] rounded-brick border border-lines p-2">
              <Button onClick={() => onRules([first])}>{name}</Button>
              <p className="pt-1 text-[13px] text-soft">{words}</p>
            </li>
          ))}
        </ul>
      </div>
    );
  return (
    <div className="flex flex-col gap-2.5">
      {rules.map((one, i) => (
        <RuleSentence
          // Rules have no other name than their place.
          // biome-ignore lint/suspicious/noArrayIndexKey: see above
          key={i}
          rule={one}
          number={i + 1}
          metrics={metrics}
          hasHours={hasHours}
          chosen={i === r ? c : -1}
          onChoose={(k) => setAt({ rule: i, condition: k })}
          onRule={(next) => setRule(i, next)}
          onRemove={() => onRules(rules.filter((_, k) => k !== i))}
        />
      ))}
      <div className="flex flex-wrap items-center gap-2 text-[13px]">
        <span className="text-soft">Another rule beside {rules.length === 1 ? "it" : "them"}:</span>
        {PRESETS.map(({ name, words, rule: first }) => (
          <Button key={name} look="quiet" className="h-[24px]!" title={words} onClick={() => onRules([...rules, first])}>
            {name}
          </Button>
        ))}
      </div>
      {trials.state === "reading" && <p className="text-soft">Reading the last four weeks of samples…</p>}
      {trials.state === "failed" && <Notice kind="error">{trials.message}</Notice>}
      {head && <LateNotes rules={shown} head={head} />}
      {head && rule && condition && (
        <section aria-label="What it would have done" className="flex flex-col gap-2">
          <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
            <select
              aria-label="Whose samples"
              className="h-[26px] rounded-brick border border-ink/40 bg-raised px-1"
              value={zoom ? zoom.resource : (resource ?? "")}
              onChange={({ target }) => {
                setZoom(null);
                setResource(target.value === "" ? null : Number(target.value));
              }}
            >
              <option value="">all {head.resources.length} machines</option>
              {head.resources.map(({ id, name }, i) => (
                <option key={id} value={i}>
                  {name}
                </option>
              ))}
            </select>
            {figures && <FiguresLine figures={figures} currency={currency} />}
          </div>
          {zoom && (
            <div className="flex flex-wrap items-baseline gap-2 text-[13px]">
              <span>{tripWords(zoom, { head, rule: shown[zoom.rule], zone, now })}</span>
              <Button look="quiet" className="h-[22px]!" onClick={() => setZoom(null)}>
                Back to four weeks
              </Button>
            </div>
          )}
          {picture ? (
            <Picture
              shown={picture}
              condition={condition}
              trips={trips}
              zone={zone}
              names={names}
              onCondition={(next, isDone) => {
                const changed = withCondition(next);
                if (!changed) return;
                if (!isDone) return onPreview(shown.map((one, k) => (k === r ? changed : one)));
                onPreview(null);
                setRule(r, changed);
              }}
              onTrip={setZoom}
            />
          ) : (
            <p className="h-[222px] text-soft">drawing…</p>
          )}
          {tried && <WouldTrip tried={tried} names={names} chosen={resource} onChoose={setResource} />}
          {trials.worker && worth && (
            <SweepMap
              key={`${r} ${c}`}
              worker={trials.worker}
              head={head}
              rules={rules}
              at={{ rule: r, condition: c }}
              hours={worth.hours}
              edges={worth.edges}
              rates={worth.rates}
              currency={currency}
              onTake={(choice) => {
                const changed = withCondition({ ...condition, ...choice });
                if (changed) setRule(r, changed);
              }}
            />
          )}
        </section>
      )}
      {isInForce && <AlarmsNow fleet={fleet} zone={zone} />}
    </div>
  );
}

/** Which metrics of the rules come so late that somebody may be cut off. */
function LateNotes({ rules, head }: { rules: readonly IdleRule[]; head: NonNullable<Trials["head"]> }) {
  const words = rules.flatMap((rule) =>
    lateWarnings(rule, (metric) => head.latenessS[head.metrics.indexOf(metric)] ?? null).map(lateWords),
  );
  return [...new Set(words)].map((one) => (
    <Notice key={one} kind="warning">
      {one}
    </Notice>
  ));
}

function FiguresLine({ figures, currency }: { figures: ReturnType<typeof figuresOf>; currency: string }) {
  const { trips, offHoursPerMonth, savedPerMonth, interruptions, interruptionsPerWeek, weeks } = figures;
  return (
    <p role="status" data-testid="quiet-figures">
      <b>{trips}</b> trips, <b>{offHoursPerMonth.toFixed(0)}</b> hours off a month, saves{" "}
      <b className="text-saved">
        {savedPerMonth.toFixed(0)} {currency}
      </b>{" "}
      a month; cuts <b className={interruptions > 0 ? "text-loss" : ""}>{interruptions}</b> off ({interruptionsPerWeek.toFixed(1)}{" "}
      a week)
      <span className="text-soft">
        {weeks < 1 ? "; there is no whole week of samples yet, so a month is not told" : ""}, by {weeks} whole{" "}
        {weeks === 1 ? "week" : "weeks"}
      </span>
    </p>
  );
}

type WouldTripProps = {
  tried: NonNullable<Trials["tried"]>;
  names: readonly string[];
  chosen: number | null;
  onChoose: (resource: number | null) => void;
};

/** The machines that would trip, those with most hours off first. */
function WouldTrip({ tried, names, chosen, onChoose }: WouldTripProps) {
  const rows = tried
    .map(({ offS, interruptions, trips }, i) => ({
      i,
      hours: offS.reduce((sum, seconds) => sum + seconds, 0) / 3600,
      interruptions: interruptions.reduce((sum, n) => sum + n, 0),
      trips: trips.reduce((sum, list) => sum + list.length, 0),
    }))
    .filter(({ trips }) => trips > 0)
    .sort((a, b) => b.hours - a.hours);
  if (rows.length === 0) return <p className="text-soft">No machine would have tripped.</p>;
  return (
    <details className="text-[13px]">
      <summary className="cursor-pointer">
        {rows.length} of {names.length} machines would trip;{" "}
        {rows[0] && `${names[rows[0].i]} most, ${rows[0].hours.toFixed(0)} hours off`}
      </summary>
      <ul className="flex max-h-[150px] flex-wrap gap-x-3 gap-y-0.5 overflow-auto pt-1">
        {rows.map(({ i, hours, interruptions, trips }) => (
          <li key={names[i]}>
            <button
              type="button"
              aria-pressed={chosen === i}
              className={`underline-offset-2 hover:underline ${chosen === i ? "font-semibold" : ""}`}
              onClick={() => onChoose(chosen === i ? null : i)}
            >
              {names[i]}
            </button>{" "}
            <span className="text-soft">
              {hours.toFixed(0)} h, {trips} trips
            </span>
            {interruptions > 0 && <span className="text-loss"> {interruptions} cut off</span>}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What the picture shows, drawn by the worker; of a trip, the hours around it. */
function usePicture(trials: Trials, metric: string | null, resource: number | null, zoom: TripOf | null): Shown | null {
  const [picture, setPicture] = useState<Shown | null>(null);
  const { head, picture: draw } = trials;
  const zoomAt = zoom?.backAt ?? zoom?.trippedAt ?? null;
  useEffect(() => {
    if (!head || metric === null) return;
    let isOld = false;
    const span = zoomAt === null ? null : { from: zoomAt - AROUND_S, to: zoomAt + AROUND_S };
    void draw({ metric, resource, bins: BINS, span }).then((made) => {
      if (!isOld && made) setPicture(made);
    });
    return () => {
      isOld = true;
    };
  }, [head, draw, metric, resource, zoomAt]);
  return picture?.metric === metric ? picture : null;
}
