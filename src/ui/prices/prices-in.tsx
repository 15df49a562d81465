"use client";
import { useState } from "react";
import type { PricesTaken } from "@/services";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { FilePick } from "../kit/file-pick";
import { Notice } from "../kit/notice";
import { ProblemNotice } from "../kit/problem";
import { useAttempt } from "../kit/use-attempt";

/** Takes a file of prices in after a look at what in it differs from what counts. */
export function PricesIn() {
  const attempt = useAttempt();
  const [looked, setLooked] = useState<{ text: string; taken: PricesTaken } | null>(null);
  const [done, setDone] = useState<PricesTaken | null>(null);
  const send = (text: string, isTrial: boolean) =>
    ask<PricesTaken>("/api/prices/csv", { method: "POST", body: { text, isTrial } });
  const look = (file: File) =>
    attempt.run(async () => {
      setDone(null);
      setLooked(null);
      const text = await file.text();
      setLooked({ text, taken: await send(text, true) });
    });
  const take = (text: string) =>
    attempt.run(async () => {
      setDone(await send(text, false));
      setLooked(null);
    });
  return (
    <div className="flex max-w-[860px] flex-col gap-1.5">
      <FilePick
        label="Set prices by CSV"
        hint="Columns provider, region, item, size, os, purchase, class, rate, cores_min, valid_from; all lines are taken or none, and only what differs is set by hand."
        isBusy={attempt.isBusy}
        onFile={(file) => void look(file)}
      />
      {looked && (
        <Notice
          kind={looked.taken.lines > 0 ? "warning" : "fine"}
          action={
            looked.taken.lines > 0 && (
              <>
                <Button look="strong" disabled={attempt.isBusy} onClick={() => void take(looked.text)}>
                  Take {looked.taken.lines} in
                </Button>
                <Button look="quiet" onClick={() => setLooked(null)}>
                  Not yet
                </Button>
              </>
            )
          }
        >
          {words(looked.taken)}
          <Differences taken={looked.taken} />
        </Notice>
      )}
      {done && (
        <Notice kind="fine">{done.lines} are set by hand now. Each goes back to its provider's by the press in its row.</Notice>
      )}
      <ProblemNotice problem={attempt.problem} />
    </div>
  );
}

function words({ lines, same }: PricesTaken): string {
  if (lines === 0) return `All ${same} lines say what counts already: nothing would change.`;
  return `${lines} ${lines === 1 ? "line differs" : "lines differ"}${same > 0 ? `; ${same} say what counts already` : ""}.`;
}

function Differences({ taken: { differences, lines } }: { taken: PricesTaken }) {
  if (differences.length === 0) return null;
  return (
    <ul className="max-h-[180px] overflow-auto text-[13px]" tabIndex={0} aria-label="What differs">
      {differences.map(({ what, day, from, to }) => (
        <li key={`${what} ${day}`}>
          {what}, from {day}: {from ?? "nothing"} → <b>{to}</b>
        </li>
      ))}
      {lines > differences.length && <li>and {lines - differences.length} more</li>}
    </ul>
  );
}
