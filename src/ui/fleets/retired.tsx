"use client";
import type { FleetSummary } from "@/services/plans";
import { AtLink } from "../as-of/at-link";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { useAttempt } from "../kit/use-attempt";
import { dayTimePlace } from "../kit/when";

/** The fleets that look after nothing any more, each to be brought back. */
export function RetiredFleets({ fleets }: { fleets: readonly FleetSummary[] }) {
  const { run, isBusy, problem } = useAttempt();
  if (fleets.length === 0) return null;
  return (
    <details className="mt-5">
      <summary className="cursor-pointer text-soft">{fleets.length} retired</summary>
      <ul>
        {fleets.map(({ id, name, retiredAt }) => (
          <li key={id} className="flex h-[34px] max-w-[640px] items-center gap-3 border-lines border-b">
            <AtLink href={`/fleets/${id}`}>{name}</AtLink>
            <span className="text-[13px] text-soft">since {dayTimePlace(retiredAt ?? 0, "UTC")}</span>
            <Button
              className="ml-auto"
              disabled={isBusy}
              onClick={() => void run(() => ask(`/api/fleets/${id}/back`, { method: "POST", body: {} }))}
            >
              Bring {name} back
            </Button>
          </li>
        ))}
      </ul>
      {problem && <Notice kind="error">{problem.message}</Notice>}
    </details>
  );
}
