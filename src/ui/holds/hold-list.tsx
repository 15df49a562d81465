"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { endWords, listedWords } from "@/core/rounds";
import type { StoredOverride } from "@/services/rounds";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { dayTimePlace } from "../kit/when";

export type HoldListProps = { holds: readonly StoredOverride[]; zone: string; now: number };

const LONGER_S = 7200;
const YEAR_S = 366 * 86_400;

/** A trip that no hours end lasts until somebody starts the machine. */
function isForGood({ kind, from, to }: StoredOverride): boolean {
  return kind === "trip" && to - from > YEAR_S;
}

/** Holds in effect, the first to end at the top; each can be released at once. */
export function HoldList({ holds, zone, now }: HoldListProps) {
  const router = useRouter();
  const [problem, setProblem] = useState("");
  async function change(id: number, until: number | null) {
    setProblem("");
    try {
      await (until === null
        ? ask(`/api/holds/${id}`, { method: "DELETE", body: {} })
        : ask(`/api/holds/${id}`, { method: "PATCH", body: { until } }));
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
    router.refresh();
  }
  return (
    <>
      <table className="w-full">
        <caption className="sr-only">Holds in effect</caption>
        <tbody>
          {holds.map((hold) => (
            <tr key={hold.id} className="h-[30px] border-lines border-b">
              <td className="whitespace-nowrap pr-3 font-semibold">
                {hold.resourceId !== null ? (
                  <Link href={`/machines/${encodeURIComponent(hold.resourceId)}`}>{hold.name}</Link>
                ) : (
                  `fleet ${hold.name}`
                )}
              </td>
              <td className="pr-3">
                {listedWords(hold)} until{" "}
                <span className="whitespace-nowrap">
                  {isForGood(hold) ? "somebody starts it" : dayTimePlace(hold.to, zone, now)}
                </span>
              </td>
              <td className="pr-3 text-soft">
                {hold.reason}
                {hold.kind === "hold" && `, ${hold.person}`}
              </td>
              <td className="text-right">
                {hold.kind === "start" && (
                  <Button
                    look="quiet"
                    aria-label={`Keep ${hold.name} two hours longer`}
                    onClick={() => void change(hold.id, hold.to + LONGER_S)}
                  >
                    2 h longer
                  </Button>
                )}
                <Button look="quiet" aria-label={endWords(hold.kind, hold.name)} onClick={() => void change(hold.id, null)}>
                  {hold.kind === "hold" ? "Release" : "End"}
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {problem && (
        <p role="alert" className="text-loss">
          {problem}
        </p>
      )}
    </>
  );
}
