"use client";
import { Popover } from "radix-ui";
import { useState } from "react";
import { CLASS_KEYS, rowSchema } from "@/core/hours";
import type { RowDraft } from "@/core/plan";
import { WEEKDAYS, type Weekday } from "@/core/time";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";

export type RowKeyProps = { row: RowDraft; label: string; onRow: (row: RowDraft) => void };

/** What kind of day a row is for; a press opens it to be changed. */
export function RowKey({ row, label, onRow }: RowKeyProps) {
  return (
    <Popover.Root>
      <Popover.Trigger
        className="min-w-0 truncate text-left underline decoration-lines decoration-2 underline-offset-4 hover:decoration-lit-deep"
        title={label}
        aria-label={`Change the days of the row ${label}`}
      >
        {label}
        {row.holidays === "too" && <span aria-hidden> ✶</span>}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-20 flex w-[330px] flex-col gap-2.5 rounded-brick border border-lines bg-paper p-3 shadow-xl"
        >
          <KeyForm row={row} onRow={onRow} />
          <Popover.Close className="self-start text-attention text-[13px] hover:underline">Done</Popover.Close>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const KINDS = [
  ...CLASS_KEYS.map((key) => ({ value: key as string, label: key as string })),
  { value: "weekdays", label: "weekdays" },
  { value: "dates", label: "a date, or dates" },
];

function KeyForm({ row, onRow }: Omit<RowKeyProps, "label">) {
  const { holidays, ...rest } = row;
  const days = weekdaysOf(row);
  const isClass = typeof row.day === "string" && (CLASS_KEYS as readonly string[]).includes(row.day);
  const kind = days.length > 0 ? "weekdays" : isClass ? (row.day as string) : "dates";
  const [text, setText] = useState(kind === "dates" ? String(row.day) : "");
  const checked = rowSchema.safeParse({ ...rest, day: text });
  const error = checked.success ? null : (checked.error.issues.find(({ path }) => path[0] === "day")?.message ?? null);
  const choose = (next: string) => {
    if (next === "weekdays") onRow({ ...rest, day: ["mon"] });
    else if (next === "dates") onRow({ ...rest, day: text });
    else onRow({ ...rest, day: next });
  };
  const toggle = (day: Weekday) => {
    const next = WEEKDAYS.filter((one) => days.includes(one) !== (one === day));
    if (next.length > 0) onRow({ ...row, day: next.length === 1 ? (next[0] as string) : [...next] });
  };
  return (
    <>
      <Choice label="Days" className="w-[180px]" value={kind} options={KINDS} onChange={(event) => choose(event.target.value)} />
      {kind === "weekdays" && (
        <>
          <div className="flex gap-1">
            {WEEKDAYS.map((day) => (
              <button
                key={day}
                type="button"
                aria-pressed={days.includes(day)}
                onClick={() => toggle(day)}
                className={`h-[26px] flex-1 rounded-brick border text-[13px] ${days.includes(day) ? "border-ink bg-ink font-semibold text-paper" : "border-ink/40 bg-raised"}`}
              >
                {day}
              </button>
            ))}
          </div>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={holidays === "too"}
              onChange={(event) => onRow(event.target.checked ? { ...rest, holidays: "too" } : rest)}
            />
            also when that day is a holiday ✶
          </label>
        </>
      )}
      {kind === "dates" && (
        <Field
          label="Date or date..date"
          value={text}
          placeholder="2027-04-01..2027-04-05"
          onChange={(event) => {
            setText(event.target.value);
            onRow({ ...rest, day: event.target.value.trim() });
          }}
          error={error}
        />
      )}
    </>
  );
}

function weekdaysOf({ day }: RowDraft): Weekday[] {
  const named = Array.isArray(day) ? day : [day];
  return WEEKDAYS.filter((weekday) => named.includes(weekday));
}
