"use client";
import { useId } from "react";
import { LOCAL } from "@/core/hours";
import { isZone, zoneNames } from "@/core/time";
import { WORD } from "../kit/word-choice";
import { zoneError } from "./zone-field";

let names: readonly string[] | null = null;

export type ZoneWordProps = { value: string; onChange: (zone: string) => void };

/** The zone of a week as a word of its sentence, with what is wrong with it; `local` is that of each machine's region. */
export function ZoneWord({ value, onChange }: ZoneWordProps) {
  const id = useId();
  names ??= zoneNames();
  const isKnown = value === LOCAL || isZone(value);
  return (
    <>
      <input
        aria-label="Zone"
        title="A zone such as Europe/Oslo, or local: that of each machine's region"
        list={id}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        spellCheck={false}
        aria-invalid={isKnown ? undefined : true}
        aria-describedby={isKnown ? undefined : `${id}-error`}
        className={`${WORD} min-w-[80px] cursor-text`}
      />
      <datalist id={id}>
        <option value={LOCAL}>each machine's own zone</option>
        {names.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      {!isKnown && (
        <span id={`${id}-error`} className="text-[13px] text-loss">
          {" "}
          {zoneError(value, names)}
        </span>
      )}
    </>
  );
}
