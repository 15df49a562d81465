"use client";
import { useId } from "react";
import { isNearMiss, nearest } from "@/core/selector";
import { isZone, zoneNames } from "@/core/time";
import { Field } from "../kit/field";

let names: readonly string[] | null = null;

/** A time zone by its name, with the known ones to choose from and the nearest where it is none. */
export function ZoneField({
  value,
  onChange,
  label = "Zone",
}: {
  value: string;
  onChange: (zone: string) => void;
  label?: string;
}) {
  const listId = useId();
  names ??= zoneNames();
  return (
    <>
      <Field
        label={label}
        className="w-[180px]"
        list={listId}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        error={isZone(value) ? null : zoneError(value, names)}
        spellCheck={false}
      />
      <datalist id={listId}>
        {names.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
    </>
  );
}

/** What is wrong with a zone, and the nearest one. */
export function zoneError(value: string, known: readonly string[]): string {
  const near = nearest(value, new Map(known.map((name) => [name, 1])));
  return near && isNearMiss(value, near.name)
    ? `no such zone; did you mean ${near.name}?`
    : "no such zone; write one such as Europe/Oslo";
}
