"use client";
import type { ReactNode } from "react";
import type { FleetDraft } from "@/core/plan";
import { type Instant, offsetAt } from "@/core/time";
import type { Basis } from "@/services";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { placeOf } from "../kit/when";
import type { FirstRound, LostHours } from "../ledger/reckon";
import type { CheckedSchedule } from "./draft";
import { withSchedule } from "./draft";

export type WarningInput = Readonly<{
  draft: FleetDraft;
  basis: Basis;
  checked: CheckedSchedule | null;
  first: FirstRound;
  lost: readonly LostHours[];
  now: Instant;
  regionZones: Readonly<Record<string, string>>;
  onDraft: (draft: FleetDraft) => void;
}>;

/** What is odd about a plan, each with the thing to press where there is one. */
export function warningsOf({ draft, basis, checked, first, lost, now, regionZones, onDraft }: WarningInput): ReactNode[] {
  const said: ReactNode[] = [];
  const { compiled } = checked ?? {};
  if (compiled) {
    const { zone, rows } = compiled.schedule;
    const lived = new Set(basis.lines.map(({ resource }) => regionZones[resource.fields.region ?? ""] ?? zone));
    const elsewhere = [...lived].find((other) => offsetAt(other, now) !== offsetAt(zone, now));
    if (elsewhere) {
      said.push(
        <Notice
          key="zone"
          kind="warning"
          action={
            lived.size === 1 && (
              <Button
                look="quiet"
                onClick={() => draft.schedule && onDraft(withSchedule(draft, { ...draft.schedule, zone: elsewhere }))}
                disabled={!draft.schedule}
              >
                Use {placeOf(elsewhere)}
              </Button>
            )
          }
        >
          The hours are in {placeOf(zone)} time; the people of {lived.size === 1 ? "this region" : "some regions"} live in{" "}
          {[...lived].map(placeOf).join(", ")}.
        </Notice>,
      );
    }
    const isNeverOn =
      compiled.schedule.outside === 0 && rows.every(({ spans }) => spans === "off" || spans.every(({ level }) => level === 0));
    if (isNeverOn) {
      said.push(
        <Notice key="never" kind="warning">
          These hours never switch anything on.
        </Notice>,
      );
    }
  }
  for (const { found, machines } of lost) {
    said.push(
      <Notice key={`lost ${found.text}`} kind="warning">
        {machines.length > 3 ? `${machines.length} machines` : machines.join(", ")} {machines.length === 1 ? "says" : "say"}{" "}
        <b>{found.text}</b>,{" "}
        {found.kind === "unknown" ? "which names no hours" : `which does not read as hours (${found.message})`}
        {found.nearest !== null && (
          <>
            ; the nearest is <b>{found.nearest}</b>
          </>
        )}
        . {machines.length === 1 ? "It is" : "They are"} left alone.
      </Notice>,
    );
  }
  if (first.whyNoHibernation.length > 0) {
    const [one] = first.whyNoHibernation;
    said.push(
      <Notice key="hibernate" kind="warning">
        {first.whyNoHibernation.length} cannot hibernate and are stopped instead: {one?.name} ({one?.why})
        {first.whyNoHibernation.length > 1 ? " and others" : ""}.
      </Notice>,
    );
  }
  const unpriced = basis.lines.filter((line) => line.unpriced.length > 0);
  if (unpriced.length > 0) {
    said.push(
      <Notice key="price" kind="warning">
        {unpriced.length} have no price for {unpriced[0]?.unpriced.join(", ")}; that part counts as nothing.
      </Notice>,
    );
  }
  return said;
}
