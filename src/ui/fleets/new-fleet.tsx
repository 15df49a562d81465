"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { Matches } from "./matches";
import { SelectorField } from "./selector-field";
import { useBasis } from "./use-basis";

/** Name a fleet and say by tags who belongs to it, with the matches beside. */
export function NewFleet() {
  const router = useRouter();
  const [name, setName] = useState("");
  const [select, setSelect] = useState("");
  const [problem, setProblem] = useState<AnswerError | null>(null);
  const [isBusy, setIsBusy] = useState(false);
  const { basis, isOld, error } = useBasis(select, null);
  const issueAt = (path: string) => problem?.fields.find((field) => field.path === path)?.message;

  async function save() {
    setIsBusy(true);
    setProblem(null);
    try {
      const { id } = await ask<{ id: number }>("/api/fleets", { method: "POST", body: { name, select } });
      router.push(`/fleets/${id}`);
    } catch (caught) {
      setProblem(caught instanceof AnswerError ? caught : new AnswerError(String(caught), ""));
      setIsBusy(false);
    }
  }

  return (
    <form
      className="grid grid-cols-1 lg:grid-cols-[minmax(340px,5fr)_7fr] gap-6 px-4 py-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <div className="flex flex-col gap-3">
        <h1 className="font-medium text-[20px] leading-7">New fleet</h1>
        <Field
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value)}
          placeholder="draughting-oslo"
          error={issueAt("name")}
        />
        <SelectorField value={select} onChange={setSelect} basis={basis} isOld={isOld} error={issueAt("select")} />
        {problem && problem.fields.length === 0 && <Notice kind="error">{problem.message}</Notice>}
        {error && <Notice kind="error">{error}</Notice>}
        <div className="flex items-center gap-3">
          <Button type="submit" look="strong" disabled={isBusy}>
            {isBusy ? "Saving…" : "Save fleet"}
          </Button>
          <span className="text-[13px] text-soft">Saving touches no machine. Hours come next.</span>
        </div>
      </div>
      <Matches basis={basis} isOld={isOld} />
    </form>
  );
}
