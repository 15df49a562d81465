"use client";
import { useEffect, useState } from "react";
import type { MixStory } from "@/services/mix";
import { AnswerError, ask } from "../kit/ask";
import { Notice } from "../kit/notice";
import { dayTimePlace } from "../kit/when";
import { EvictionLines } from "./eviction-lines";

export type KeptProps = Readonly<{ fleet: string; zone: string; now: number }>;

const SHOWN = 8;

/** What the mix in force has now, and what it lost. */
export function Kept({ fleet, zone, now }: KeptProps) {
  const [story, setStory] = useState<MixStory | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [isAll, setIsAll] = useState(false);
  // Read anew as its clock goes on.
  const minute = Math.floor(now / 60);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the minute is what it is read anew for
  useEffect(() => {
    const leaving = new AbortController();
    ask<MixStory>(`/api/mix/story?${new URLSearchParams({ fleet })}`, { signal: leaving.signal }).then(
      (read) => {
        setProblem(null);
        setStory(read);
      },
      (error: unknown) => {
        if (!leaving.signal.aborted) setProblem(error instanceof AnswerError ? error.message : String(error));
      },
    );
    return () => leaving.abort();
  }, [fleet, minute]);
  if (problem) return <Notice kind="error">{problem}</Notice>;
  if (!story) return null;
  const { kept, lines, currency, isMore } = story;
  return (
    <section aria-label="The mix in force">
      <h3 className="font-semibold text-[13px]">The mix in force</h3>
      {kept.map(({ fleet: name, parts, comingUnits, missingUnits, missingSince, neverCame }) => (
        <p key={name} data-testid="kept">
          {parts.length === 0
            ? "Nothing of it is there yet: the next round asks for it."
            : parts.map(({ part, pool, units }) => `${units} ${partWord(part)}${pool === null ? "" : ` ${pool}`}`).join(", ")}
          {comingUnits > 0 && `; ${comingUnits} of them on their way`}
          {missingUnits > 0 && missingSince !== null && (
            <b className="text-loss">
              ; △ {missingUnits} missing since {dayTimePlace(missingSince, zone, now)}
            </b>
          )}
          .
          {neverCame.length > 0 && (
            <b className="text-loss">
              {" "}
              Ordered and accepted within a day, and never come:{" "}
              {neverCame.map(({ pool, count }) => `${count} ${pool === null ? "at full price" : `from ${pool}`}`).join(", ")}.
            </b>
          )}
        </p>
      ))}
      {lines.length === 0 ? (
        <p className="text-soft">Nothing was taken back in four weeks.</p>
      ) : (
        <>
          <EvictionLines lines={isAll ? lines : lines.slice(0, SHOWN)} currency={currency} zone={zone} now={now} />
          {!isAll && lines.length > SHOWN && (
            <button type="button" className="text-[13px] underline" onClick={() => setIsAll(true)}>
              All {lines.length} of four weeks
            </button>
          )}
          {isAll && isMore && <p className="text-soft">And earlier ones.</p>}
        </>
      )}
    </section>
  );
}

function partWord(part: MixStory["kept"][number]["parts"][number]["part"]): string {
  return part === "firm" ? "firm" : part === "stand-in" ? "standing in at full price" : "from";
}
