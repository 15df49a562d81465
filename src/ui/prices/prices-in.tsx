"use client";
import { useState } from "react";
import { utcDate } from "@/core/time";
import type { PriceImport, PricesTaken } from "@/services/cost";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { FilePick } from "../kit/file-pick";
import { Notice } from "../kit/notice";
import { ProblemNotice } from "../kit/problem";
import { useAttempt } from "../kit/use-attempt";

/** Takes a file of prices in after a look at what in it differs from what counts. */
export function PricesIn({ last }: { last: PriceImport | null }) {
  const attempt = useAttempt();
  const [looked, setLooked] = useState<{ text: string; taken: PricesTaken } | null>(null);
  const [done, setDone] = useState<PricesTaken | null>(null);
  const [undone, setUndone] = useState("");
  const send = (text: string, isTrial: boolean) =>
    ask<PricesTaken>("/api/prices/csv", { method: "POST", body: { text, isTrial } });
  const look = (file: File) =>
    attempt.run(async () => {
      setDone(null);
      setUndone("");
      setLooked(null);
      const text = await file.text();
      setLooked({ text, taken: await send(text, true) });
    });
  const take = (text: string) =>
    attempt.run(async () => {
      setDone(await send(text, false));
      setLooked(null);
    });
  const undo = (id: number) =>
    attempt.run(async () => {
      const { back, kept } = await ask<{ back: number; kept: number }>(`/api/prices/imports/${id}`, {
        method: "DELETE",
        body: {},
      });
      const rest = kept > 0 ? ` ${kept} were set otherwise since, and stay.` : "";
      setUndone(`${back} prices are as they were before the file.${rest}`);
      setDone(null);
    });
  const undoPress = (id: number) => (
    <Button disabled={attempt.isBusy} onClick={() => void undo(id)}>
      Take the file back
    </Button>
  );
  return (
    <div className="flex max-w-[860px] flex-col gap-1.5">
      <FilePick
        label="Set prices by CSV"
        hint="Columns provider, region, item, size, os, purchase, class, zone (may be left out), rate, cores_min, valid_from; all lines are taken or none, and only what differs is set by hand."
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
        <Notice kind="fine" action={done.importId !== null && undoPress(done.importId)}>
          {done.lines} are set by hand now.
        </Notice>
      )}
      {undone && <Notice kind="fine">{undone}</Notice>}
      {last && !done && !looked && (
        <p className="flex flex-wrap items-center gap-3 text-[13px]">
          The last file set {last.lines} {last.lines === 1 ? "price" : "prices"} on {utcDate(last.at)}, by {last.person}.{" "}
          {undoPress(last.id)}
        </p>
      )}
      <ProblemNotice problem={attempt.problem} />
    </div>
  );
}

function words({ lines, same, free }: PricesTaken): string {
  if (lines === 0) return `All ${same} lines say what counts already: nothing would change.`;
  return `${lines} ${lines === 1 ? "line differs" : "lines differ"}${same > 0 ? `; ${same} say what counts already` : ""}.${free > 0 ? ` ${free} of them to 0: that costs nothing from then on. Is it meant?` : ""}`;
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
