"use client";
import { useState } from "react";
import { ask } from "./ask";
import { FilePick } from "./file-pick";
import { Notice } from "./notice";
import { ProblemNotice } from "./problem";
import { useAttempt } from "./use-attempt";

export type CsvInProps = { label: string; path: string; hint: string };

/** Takes a CSV file in whole; what is wrong in it is shown line by line, and then nothing was taken. */
export function CsvIn({ label, path, hint }: CsvInProps) {
  const attempt = useAttempt();
  const [taken, setTaken] = useState<number | null>(null);
  const take = (file: File) =>
    attempt.run(async () => {
      setTaken(null);
      const { lines } = await ask<{ lines: number }>(path, { method: "POST", body: { text: await file.text() } });
      setTaken(lines);
    });
  return (
    <div className="flex max-w-[860px] flex-col gap-1.5">
      <FilePick label={label} hint={hint} isBusy={attempt.isBusy} onFile={(file) => void take(file)} />
      {taken !== null && <Notice kind="fine">{taken} lines are taken in.</Notice>}
      <ProblemNotice problem={attempt.problem} />
    </div>
  );
}
