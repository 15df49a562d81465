import { type StrayKind, strayWords } from "@/core/strays";
import type { StrayLine, StrayPage } from "@/services/cost";
import type { SourceView } from "@/services/metrics";
import { AtLink } from "../as-of/at-link";
import { dateTime, placeOf } from "../kit/when";
import { Ages } from "./ages";
import { NextStep } from "./next-step";
import { StraySums } from "./stray-sums";
import { UnnamedHosts } from "./unnamed-hosts";

export type StraysProps = { page: StrayPage; zone: string };

const OPEN_UP_TO = 14;

/** What costs and serves nobody, by kind, each with its next step. */
export function Strays({ page, sources, zone }: StraysProps & { sources: readonly SourceView[] }) {
  const { strays, meant } = page;
  const kinds = [...new Set(strays.map(({ kind }) => kind))];
  return (
    <div className="px-4 py-3">
      <div className="mb-2 flex items-baseline justify-between gap-4">
        <h1 className="font-medium text-[20px] leading-7" data-testid="strays">
          {strays.length === 0 ? "No strays: everything that costs belongs to something." : <StraySums page={page} />}
        </h1>
        <span className="flex gap-4">
          <AtLink href="/odd">What is odd</AtLink>
          <AtLink href="/">What runs</AtLink>
        </span>
      </div>
      {strays.length > 0 && (
        <p className="mb-2 text-soft">
          Together {page.total} {page.currency} a month, before commitments; each thing is counted once.
        </p>
      )}
      {kinds.map((kind) => (
        <Kind key={kind} kind={kind} lines={strays.filter((line) => line.kind === kind)} page={page} zone={zone} />
      ))}
      <UnnamedHosts sources={sources} />
      {meant.length > 0 && (
        <details className="mt-3">
          <summary className="cursor-pointer font-semibold">{meant.length} said to be meant</summary>
          <Lines lines={meant} page={page} zone={zone} />
        </details>
      )}
      <Ages ages={page.ages} />
    </div>
  );
}

type KindProps = StraysProps & { kind: StrayKind; lines: readonly StrayLine[] };

function Kind({ kind, lines, page, zone }: KindProps) {
  return (
    <details open={lines.length <= OPEN_UP_TO} className="mb-2 border-lines border-t pt-1.5">
      <summary className="cursor-pointer">
        <h2 className="inline font-semibold text-[15px]">{strayWords(kind, lines.length)}</h2>
      </summary>
      <Lines lines={lines} page={page} zone={zone} />
    </details>
  );
}

function Lines({ lines, page, zone }: StraysProps & { lines: readonly StrayLine[] }) {
  return (
    <table className="w-full table-fixed">
      <thead className="text-left text-[13px]">
        <tr className="h-[26px]">
          <th className="w-[210px] pr-3 font-semibold">What</th>
          <th className="w-[220px] pr-3 font-semibold">Where</th>
          <th className="w-[110px] pr-3 font-semibold">Owner</th>
          <th className="w-[130px] pr-3 font-semibold">Since, {placeOf(zone)}</th>
          <th className="w-[110px] pr-4 text-right font-semibold">{page.currency} a month</th>
          <th className="font-semibold">Next step</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.key} className="h-[30px] border-lines border-t align-middle">
            <td className="truncate pr-3" title={line.name}>
              {line.resourceId !== null && line.kind !== "disk without a machine" && line.kind !== "address without a machine" ? (
                <AtLink href={`/machines/${encodeURIComponent(line.resourceId)}`}>{line.name}</AtLink>
              ) : (
                line.name
              )}
            </td>
            <td className="truncate pr-3 text-soft" title={`${line.account}, ${line.region}`}>
              {line.account}, {line.region}
            </td>
            <td className="truncate pr-3" title={line.owner ?? undefined}>
              {line.owner ?? <span className="text-soft">unknown</span>}
            </td>
            <td className="truncate pr-3">{line.since === null ? "" : dateTime(line.since, zone, page.at)}</td>
            <td className="pr-4 text-right">{line.perMonth}</td>
            <td>
              <NextStep line={line} now={page.now} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
