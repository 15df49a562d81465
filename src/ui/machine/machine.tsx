import { byWords } from "@/core/rounds";
import type { OpenMachine } from "@/services/inventory";
import { AtLink } from "../as-of/at-link";
import { HoldForm } from "../holds/hold-form";
import { HoldList } from "../holds/hold-list";
import { StateBrick } from "../kit/brick";
import { levelWord } from "../kit/level-word";
import { dayTimePlace } from "../kit/when";
import { MachineAlarms } from "../quiet/machine-alarms";
import { AsOf } from "./as-of";
import { Chain } from "./chain";
import { Edges } from "./edges";
import { Happened } from "./happened";
import { LifeDays } from "./life-days";
import { MissingNotice } from "./missing";
import { Runs } from "./runs";

export type MachineProps = OpenMachine & {
  isAsOf: boolean;
  /** The zone of its hours, or where its people live; `zone` is the one that the page is told in. */
  ownZone: string;
};

/** One machine: what it is, what is due now or at any other instant and why, what comes next, and its holds. */
export function Machine(machine: MachineProps) {
  const { resource, now, at, zone, currency, perHour, fleet, overlaps, due, rows, edges, holds, isAsOf } = machine;
  const levelMax = resource.kind === "machine" ? 1 : resource.levelMax;
  return (
    <div className={`px-4 py-3 ${isAsOf ? "border-attention border-l-4" : ""}`}>
      <div className="mb-1 flex flex-wrap items-center gap-x-4">
        <h1 className="font-medium text-[20px] leading-7">{resource.name}</h1>
        <StateBrick state={resource.state} />
        {resource.kind !== "machine" && (
          <span>
            level {resource.level} of at most {levelMax}
          </span>
        )}
        <span>
          <b>{perHour}</b> {currency} an hour <span className="text-[13px] text-soft">before commitments</span>
        </span>
        <AtLink href={`/machines/${encodeURIComponent(resource.id)}/cost`}>what it cost this month</AtLink>
        <span className="text-soft">
          {resource.fields.size}, {resource.fields.region}, {resource.tags.owner ? `owner ${resource.tags.owner}` : "no owner"}
        </span>
      </div>
      <p className="mb-3">
        {fleet ? (
          <>
            In <AtLink href={`/fleets/${fleet.id}`}>{fleet.name}</AtLink>
            {fleet.enforce === "edges" && ", acted on at edges only"}
            {fleet.starts === "hand" && ", started by hand only"}
            {fleet.lead > 0 && `, started ${fleet.lead} min ahead`}.
            {overlaps.length > 0 && ` Also matched by ${overlaps.join(", ")}, ranked below.`}
          </>
        ) : (
          "In no fleet in force: nothing stops or starts it."
        )}
        {machine.isGuarded &&
          (machine.guardedUntil === null
            ? " Guarded: never touched."
            : ` Its guard tag is gone; the guard holds until ${dayTimePlace(machine.guardedUntil, zone, now)}.`)}
      </p>
      <LifeDays id={resource.id} zone={zone} at={isAsOf ? at : null} />
      {machine.missing && <MissingNotice missing={machine.missing} zone={zone} now={now} />}
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(0,6fr)_minmax(0,5fr)] gap-6">
        <div className="flex flex-col gap-4">
          <section aria-label="What is due">
            {/* Keyed by what was asked: while it is now, a page drawn anew must not take away what is being typed. */}
            <AsOf key={isAsOf ? at : "now"} id={resource.id} at={at} now={now} zone={zone} isAsOf={isAsOf} />
            {due && (
              <>
                <p className="mt-2 text-[16px]" data-testid="due">
                  Due {isAsOf ? `as of ${dayTimePlace(at, zone, now)}` : "now"}: <b>{levelWord(due.level)}</b>, by{" "}
                  {byWords(due.decidedBy)}.
                </p>
                <Chain due={due} rows={rows} />
                {isAsOf && at < now && (
                  <p className="mt-1 text-[13px] text-soft">By the plans, hours, calendars, tags and holds of then.</p>
                )}
              </>
            )}
          </section>
          <MachineAlarms id={resource.id} zone={zone} />
          <section aria-label="Holds">
            <h2 className="mb-1 font-semibold text-[15px]">Hold</h2>
            {holds.length > 0 && <HoldList holds={holds} zone={zone} now={now} />}
            {fleet && !machine.isGuarded ? (
              <HoldForm
                on={{ resourceId: resource.id }}
                name={resource.name}
                levelMax={levelMax}
                level={resource.level}
                now={now}
                zone={zone}
              />
            ) : (
              <p className="text-soft">There is nothing to hold: no plan touches it.</p>
            )}
          </section>
        </div>
        <div className="flex flex-col gap-4">
          <section aria-label="Next edges">
            <h2 className="mb-1 font-semibold text-[15px]">Next edges{isAsOf && " from then"}</h2>
            <Edges edges={edges} id={resource.id} zone={zone} ownZone={machine.ownZone} now={now} />
          </section>
          <section aria-label="What happened">
            <h2 className="mb-1 font-semibold text-[15px]">Its life, run by run</h2>
            <Runs runs={machine.runs} isMany={resource.kind !== "machine"} zone={zone} now={now} />
            <p className="mt-1">
              <AtLink href={`/machines/${encodeURIComponent(resource.id)}/life`}>all of it, from first seen to now</AtLink>
            </p>
            <details className="mt-2">
              <summary className="cursor-pointer">The last changes and requests</summary>
              <Happened {...machine} />
            </details>
          </section>
        </div>
      </div>
    </div>
  );
}
