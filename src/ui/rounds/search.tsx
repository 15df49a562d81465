"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { OUTCOMES } from "@/core/rounds";
import type { ActionLine, JournalQuery } from "@/services/rounds";
import { AtLink } from "../as-of/at-link";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { dayAndTime, placeOf } from "../kit/when";
import { actionWords, tookWords } from "./words";

const CHOICES = [{ value: "", label: "any" }, ...OUTCOMES.map((one) => ({ value: one, label: one }))];

export type JournalSearchProps = { query: Pick<JournalQuery, "text" | "outcome"> };

/** Looks for what was done, by a machine's name, a fleet's or a person's, and by how it ended. */
export function JournalSearch({ query }: JournalSearchProps) {
  const router = useRouter();
  const [text, setText] = useState(query.text);
  const [outcome, setOutcome] = useState<string>(query.outcome);
  const params = new URLSearchParams({
    ...(text.trim() === "" ? {} : { search: text.trim() }),
    ...(outcome === "" ? {} : { outcome }),
  });
  return (
    <form
      role="search"
      className="mb-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        router.push(params.size === 0 ? "/rounds" : `/rounds?${params}`);
      }}
    >
      <Field
        label="Machine, fleet or person"
        isLabelHidden
        placeholder="Machine, fleet or person"
        className="w-[230px]"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Choice
        label="Outcome"
        isLabelBeside
        options={CHOICES}
        value={outcome}
        onChange={(event) => setOutcome(event.target.value)}
      />
      <Button type="submit">Search</Button>
      <a href={`/api/rounds/csv?${params}`} className="self-center">
        CSV
      </a>
    </form>
  );
}

export type ActionListProps = { lines: readonly ActionLine[]; zone: string; now: number };

/** What was done, the last first: when, to whom, why, and what came of it. */
export function ActionList({ lines, zone, now }: ActionListProps) {
  if (lines.length === 0) return <p className="text-soft">Nothing was done that answers to this.</p>;
  return (
    <table className="w-full">
      <thead className="text-left text-[13px]">
        <tr className="h-[26px] border-lines border-b">
          <th className="pr-3 font-semibold">At, {placeOf(zone)}</th>
          <th className="pr-3 font-semibold">Machine</th>
          <th className="pr-3 font-semibold">What</th>
          <th className="pr-3 font-semibold">Outcome</th>
          <th className="font-semibold">Why</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.id} className="h-[30px] border-lines border-b align-top">
            <td className="whitespace-nowrap py-1 pr-3">
              <AtLink href={`/rounds/${line.roundId}`}>{dayAndTime(line.recordedAt, zone, now)}</AtLink>
            </td>
            <td className="py-1 pr-3">
              <AtLink href={`/machines/${encodeURIComponent(line.resourceId)}`}>{line.name}</AtLink>
            </td>
            <td className="py-1 pr-3">{actionWords(line)}</td>
            <td className={`py-1 pr-3 ${line.status === "refused" || line.status === "given up" ? "text-loss" : ""}`}>
              {line.status}
              <span className="text-soft">{tookWords(line)}</span>
              {line.status !== "done" && line.lastAnswer !== "" && <span className="text-soft">: {line.lastAnswer}</span>}
            </td>
            <td className="py-1">
              {line.why} <span className="text-soft">asked by {line.askedBy}</span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
