"use client";
import { useState } from "react";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { useAttempt } from "../kit/use-attempt";

export type EntryFormProps = {
  /** What is pressed to begin. */
  label: string;
  path: string;
  /** Field names with what they are called; those named `from` and `to` are dates. */
  fields: readonly (readonly [name: string, label: string])[];
  initial: Readonly<Record<string, string>>;
};

/** Enters one line of something: a press opens the fields, what is wrong stands at each, and nothing typed is lost. */
export function EntryForm({ label, path, fields, initial }: EntryFormProps) {
  const attempt = useAttempt();
  const [draft, setDraft] = useState<Readonly<Record<string, string>> | null>(null);
  if (draft === null) {
    const empty = Object.fromEntries(fields.map(([name]) => [name, initial[name] ?? ""]));
    return <Button onClick={() => setDraft(empty)}>{label}</Button>;
  }
  const add = async () => {
    if (await attempt.run(() => ask(path, { method: "POST", body: draft }))) setDraft(null);
  };
  return (
    <form
      aria-label={label}
      className="mt-2 flex flex-wrap items-start gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      {fields.map(([name, said]) => (
        <Field
          key={name}
          label={said}
          type={name === "from" || name === "to" ? "date" : "text"}
          className="w-[136px]"
          value={draft[name] ?? ""}
          error={attempt.at(name)}
          onChange={(event) => setDraft({ ...draft, [name]: event.target.value })}
        />
      ))}
      <Button type="submit" look="strong" className="mt-[21px]" disabled={attempt.isBusy}>
        Enter it
      </Button>
      <Button look="quiet" className="mt-[21px]" onClick={() => setDraft(null)}>
        Leave it
      </Button>
    </form>
  );
}
