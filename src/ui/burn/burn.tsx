"use client";
import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import type { Grouping, Sort } from "@/core/spend";
import type { BurnMachine, BurnPage, BurnQuery } from "@/services/cost";
import type { StoredOverride } from "@/services/rounds";
import { AtLink } from "../as-of/at-link";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Notice } from "../kit/notice";
import { dayTimePlace } from "../kit/when";
import { burnAddress, burnParams, isMoneySort } from "./address";
import { Filters } from "./filters";
import { Sentence } from "./sentence";
import { SpotLine } from "./spot-line";
import { StraysLine } from "./strays-line";
import { Table } from "./table";
import { useLines } from "./use-lines";

const GROUP_OPTIONS = [
  { value: "none", label: "no grouping" },
  { value: "fleet", label: "fleet" },
  { value: "owner", label: "owner" },
  { value: "region", label: "region" },
  { value: "account", label: "account" },
  { value: "provider", label: "provider" },
  { value: "size", label: "size" },
  { value: "purchase", label: "purchase" },
];

export type BurnProps = { query: BurnQuery; first: BurnPage; zone: string };

/** What runs now and what it costs. Everything that is chosen here is in the URL. */
export function Burn({ query, first, zone }: BurnProps) {
  const router = useRouter();
  const { page, lineAt, see } = useLines(query, first);
  // Two presses in a row: the second goes on from the first, whose page may not have come yet.
  const asked = useRef(query);
  useEffect(() => {
    asked.current = query;
  }, [query]);
  const go = (change: Partial<BurnQuery>) => {
    asked.current = { ...asked.current, ...change };
    router.push(burnAddress(asked.current), { scroll: false });
  };
  const sortBy = (sort: Sort) => {
    go({ sort, isDescending: sort === query.sort ? !query.isDescending : isMoneySort(sort) });
  };
  const fold = (key: string) =>
    go({ opened: query.opened.includes(key) ? query.opened.filter((opened) => opened !== key) : [...query.opened, key] });
  const [held, setHeld] = useState<{ kind: "fine" | "error"; text: string; hold: StoredOverride | null } | null>(null);
  const tell = (error: unknown) =>
    setHeld({ kind: "error", text: error instanceof Error ? error.message : String(error), hold: null });
  /** One press keeps a machine on for the next hours; it can be taken back at once. */
  async function hold(line: BurnMachine) {
    try {
      const body = { on: { resourceId: line.id }, level: Math.max(1, line.level), until: null, reason: "kept on from Burn" };
      const placed = await ask<StoredOverride>("/api/holds", { method: "POST", body });
      const end = dayTimePlace(placed.to, zone, page.now);
      setHeld({ kind: "fine", text: `${line.name} is kept on until ${end}.`, hold: placed });
    } catch (error) {
      tell(error);
    }
  }
  async function release({ name, hold: placed }: { name: string; hold: Pick<StoredOverride, "id"> | null }) {
    try {
      await ask(`/api/holds/${placed?.id}`, { method: "DELETE", body: {} });
      setHeld({ kind: "fine", text: `The hold on ${name} is released.`, hold: null });
    } catch (error) {
      tell(error);
    }
  }
  const isNarrowed = query.filters.length > 0 || query.only !== "all";
  const groupings = [
    ...GROUP_OPTIONS,
    ...page.tagKeys.filter((key) => key !== "owner").map((key) => ({ value: `tag:${key}`, label: `tag ${key}` })),
  ];
  const { filterError, warnings, shown } = page;

  return (
    <div className="flex flex-col lg:h-full">
      <div className="flex flex-col gap-2 px-4 py-3">
        <Sentence page={page} query={query} zone={zone} />
        {page.spot && <SpotLine spot={page.spot} currency={page.currency} query={query} />}
        <StraysLine at={query.at} />
        <Unread page={page} />
        {held && (
          <Notice
            kind={held.kind}
            action={
              held.hold && (
                <Button look="quiet" onClick={() => held.hold && void release({ name: held.hold.name, hold: held.hold })}>
                  Undo
                </Button>
              )
            }
          >
            {held.text}
          </Notice>
        )}
        <div className="flex flex-wrap items-start gap-x-3 gap-y-2">
          <Filters filters={query.filters} onChange={(filters) => go({ filters, opened: [] })} />
          <Choice
            label="Group by"
            isLabelBeside
            value={query.group}
            options={groupings}
            onChange={(event) => go({ group: event.target.value as Grouping, opened: [] })}
          />
          {isNarrowed && (
            <>
              <p className="py-1.5" data-testid="shown">
                {query.only === "not due" ? "Should not run: " : query.only === "halted" ? "Shut down from inside: " : "Shown: "}
                <b>{shown.count}</b>, <b>{shown.perHour}</b> {page.currency} an hour
              </p>
              <Button look="quiet" onClick={() => go({ filters: [], only: "all", opened: [] })}>
                Show all
              </Button>
            </>
          )}
          <AtLink
            href="/resources"
            className="ml-auto py-1.5 text-[13px] underline decoration-lines decoration-2 underline-offset-4"
          >
            All resources
          </AtLink>
          <a
            className="py-1.5 text-[13px] underline decoration-lines decoration-2 underline-offset-4"
            href={`/api/burn/csv?${burnParams(query)}`}
            download
          >
            Save as CSV
          </a>
        </div>
        {filterError && (
          <Notice kind="warning">
            The filter <code>{filterError.filter}</code> does not read: {filterError.message}. It hides nothing.
          </Notice>
        )}
        {warnings.map((warning) => (
          <Notice key={warning.at} kind="warning">
            Nothing matches <code>{warning.clause}</code>
            {warning.nearest !== null && (
              <>
                ; the nearest is <b>{warning.nearest}</b> ({warning.count})
              </>
            )}
          </Notice>
        ))}
      </div>
      {page.lineCount === 0 ? (
        <p className="px-4 py-6 text-soft">
          {isNarrowed
            ? "Nothing that runs is like that."
            : "Nothing runs, and nothing is billed for running. When machines start, they are listed here with what they cost."}
        </p>
      ) : (
        <Table
          lineCount={page.lineCount}
          lineAt={lineAt}
          onSee={see}
          sort={query.sort}
          isDescending={query.isDescending}
          onSort={sortBy}
          onFold={fold}
          zone={zone}
          currency={page.currency}
          now={page.at}
          isAsOf={page.tense !== "now"}
          onFilter={(filter) => go({ filters: [...query.filters, filter], group: "none", opened: [] })}
          onHold={(line) => void hold(line)}
          onRelease={(line) => void release(line)}
        />
      )}
    </div>
  );
}

/** Accounts that could not be read: what is shown of them is old. */
function Unread({ page }: { page: BurnPage }) {
  return page.accounts
    .filter(({ error }) => error !== null)
    .map(({ name, readAt, error }) => (
      <Notice key={name} kind="error">
        <b>{name}</b> could not be read: {error}.{" "}
        {readAt === null ? "Nothing of it is shown yet." : `Its rows are as of ${dayTimePlace(readAt, "UTC")}.`} It is tried again
        every minute.
      </Notice>
    ));
}
