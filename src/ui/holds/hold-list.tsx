"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { StoredHold } from "@/services";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { levelWord } from "../kit/level-word";
import { dayTimePlace } from "../kit/when";

export type HoldListProps = { holds: readonly StoredHold[]; zone: string; now: number };

/** Holds in effect, the first to end at the top; each can be released at once. */
export function HoldList({ holds, zone, now }: HoldListProps) {
  const router = useRouter();
  const [problem, setProblem] = useState("");
  async function release(id: number) {
    setProblem("");
    try {
      await ask(`/api/holds/${id}`, { method: "DELETE", body: {} });
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
                {levelWord(hold.level)} until <span className="whitespace-nowrap">{dayTimePlace(hold.to, zone, now)}</span>
              </td>
              <td className="pr-3 text-soft">
                {hold.reason}, {hold.person}
              </td>
              <td className="text-right">
                <Button look="quiet" aria-label={`Release the hold on ${hold.name}`} onClick={() => void release(hold.id)}>
                  Release
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
