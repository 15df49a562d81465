"use client";
import { useEffect, useState } from "react";
import { WEEKDAYS } from "@/core/time";
import type { ReportDraft } from "@/services/report";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { placeOf } from "../kit/when";

export type ReportFormProps = {
  draft: ReportDraft;
  zones: readonly string[];
  isNew: boolean;
  onSave: (draft: ReportDraft) => void;
};

/** When a report goes out: a local time on some weekdays of a zone. */
export function ReportForm({ draft, zones, isNew, onSave }: ReportFormProps) {
  const [edited, setEdited] = useState(draft);
  // What was saved, or changed elsewhere, is taken over in place: the keyboard stays where it is.
  const told = JSON.stringify(draft);
  useEffect(() => setEdited(JSON.parse(told)), [told]);
  const isChanged = isNew || JSON.stringify(edited) !== JSON.stringify(draft);
  const set = (change: Partial<ReportDraft>) => setEdited({ ...edited, ...change });
  const time = `${String(Math.floor(edited.minute / 60)).padStart(2, "0")}:${String(edited.minute % 60).padStart(2, "0")}`;
  return (
    <form
      aria-label="When it is sent"
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onSave(edited);
      }}
    >
      <div className="flex items-end gap-3">
        <Field
          label="Name"
          className="flex-1"
          required
          value={edited.name}
          onChange={(event) => set({ name: event.target.value })}
        />
        <Field
          label="At"
          type="time"
          required
          className="w-[110px]"
          value={time}
          onChange={(event) => {
            const [hour = 0, minute = 0] = event.target.value.split(":").map(Number);
            set({ minute: hour * 60 + minute });
          }}
        />
        <Choice
          label="Time of"
          className="w-[130px]"
          value={edited.zone}
          options={[...new Set([...zones, edited.zone])].map((zone) => ({ value: zone, label: placeOf(zone) }))}
          onChange={(event) => set({ zone: event.target.value })}
        />
      </div>
      <fieldset className="flex flex-wrap items-center gap-1.5">
        <legend className="sr-only">Days</legend>
        {WEEKDAYS.map((day) => {
          const isOn = edited.days.includes(day);
          return (
            <button
              key={day}
              type="button"
              aria-pressed={isOn}
              className={`h-[28px] rounded-brick border px-2 ${isOn ? "border-lit-deep bg-lit text-[#23213a]" : "border-ink/40 bg-raised"}`}
              onClick={() => set({ days: WEEKDAYS.filter((one) => (one === day ? !isOn : edited.days.includes(one))) })}
            >
              {day}
            </button>
          );
        })}
        <label className="ml-3 flex items-center gap-1.5">
          <input type="checkbox" checked={edited.isOn} onChange={(event) => set({ isOn: event.target.checked })} />
          switched on
        </label>
        {isChanged && (
          <Button type="submit" look="strong" className="ml-auto">
            {isNew ? "Make it" : "Save"}
          </Button>
        )}
      </fieldset>
    </form>
  );
}
