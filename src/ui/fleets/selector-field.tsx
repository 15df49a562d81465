"use client";
import type { SelectorWarning } from "@/core/selector";
import type { Basis } from "@/services/cost";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";

export type SelectorFieldProps = {
  value: string;
  onChange: (value: string) => void;
  basis: Basis | null;
  isOld: boolean;
  error?: string | undefined;
};

/** A selector as it is typed, with where it is wrong or what is likely a typing mistake. */
export function SelectorField({ value, onChange, basis, isOld, error }: SelectorFieldProps) {
  const problem = isOld ? null : (basis?.selectorError ?? null);
  const isEmpty = value.trim() === "";
  return (
    <div className="flex flex-col gap-1.5">
      <Field
        label="Who"
        value={value}
        onChange={(event) => onChange(event.target.value)}
        placeholder="team = draughting and region = fjord-1"
        spellCheck={false}
        autoComplete="off"
        error={error ?? (problem && !isEmpty ? problem.message : null)}
        hint="key = value, key != value, key in (a, b), has key, key ~ pattern*; join with and, or, not"
      />
      {!isOld &&
        basis?.warnings.map((warning) => (
          <Notice
            key={warning.at}
            kind="warning"
            action={
              warning.nearest !== null && (
                <Button look="quiet" onClick={() => onChange(mended(value, warning))}>
                  Use {warning.nearest}
                </Button>
              )
            }
          >
            <code className="font-sans font-semibold">{warning.clause}</code> matches nothing
            {warning.nearest !== null ? (
              <>
                ; the nearest known is <b>{warning.nearest}</b>, on {warning.count}
              </>
            ) : (
              "; nothing of the kind is known"
            )}
          </Notice>
        ))}
      {!isOld &&
        basis?.nearMisses.map(({ clause, found, meant, names }) => (
          <Notice key={clause + found} kind="warning">
            <b>{names.length > 3 ? `${names.length} machines` : names.join(", ")}</b> {names.length === 1 ? "has" : "have"}{" "}
            <b>{found}</b>, likely meant as {meant}, and {names.length === 1 ? "is" : "are"} passed over by{" "}
            <code className="font-sans">{clause}</code>.
          </Notice>
        ))}
    </div>
  );
}

/** The text with the clause's unknown word replaced by the nearest known one. */
function mended(text: string, { clause, at, nearest, typed, unknown }: SelectorWarning): string {
  const place = unknown === "key" ? clause.indexOf(typed) : clause.lastIndexOf(typed);
  if (place < 0 || nearest === null) return text;
  const word = /^[\p{L}\p{N}_./*?-]+$/u.test(nearest) ? nearest : JSON.stringify(nearest);
  return text.slice(0, at + place) + word + text.slice(at + place + typed.length);
}
