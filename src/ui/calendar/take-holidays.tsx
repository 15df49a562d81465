"use client";
import { useId, useState } from "react";
import { dateRangeSchema, holidayDates } from "@/core/hours";
import type { Holiday, HolidaysResult } from "@/core/ics";
import type { Country } from "@/services/plans";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { placeOf } from "../kit/when";

/** As large a file as is read: a calendar of holidays has some thousand characters. */
const FILE_MAX = 1_000_000;

export type TakeHolidaysProps = {
  countries: readonly Country[];
  zones: readonly string[];
  onHolidays: (holidays: readonly Holiday[], from: string) => void;
};

type Told = Readonly<{ kind: "fine" | "error"; text: string }>;

/** Three ways to holidays: by hand, from a country's list, from a calendar file. */
export function TakeHolidays({ countries, zones, onHolidays }: TakeHolidaysProps) {
  const [told, setTold] = useState<Told | null>(null);
  const take = (result: HolidaysResult, from: string) => {
    if (!result.ok) {
      setTold({
        kind: "error",
        text: `${from}, line ${result.line}: ${result.message}. Nothing was taken; the calendar is as it was.`,
      });
      return;
    }
    onHolidays(result.holidays, from);
    const left = result.skipped.map(({ line, name, why }) => (name ? `${name} (line ${line}): ${why}` : `line ${line}: ${why}`));
    setTold({
      kind: "fine",
      text: `${result.holidays.length} days taken from ${from}.${left.length > 0 ? ` Not taken: ${left.slice(0, 5).join("; ")}${left.length > 5 ? ` and ${left.length - 5} more` : ""}.` : ""}`,
    });
  };
  const fail = (error: unknown) => setTold({ kind: "error", text: error instanceof AnswerError ? error.message : String(error) });
  return (
    <div className="flex flex-col gap-2">
      <ByHand
        onAdd={(dates, name) =>
          onHolidays(
            dates.map((date) => ({ date, name })),
            "hand",
          )
        }
      />
      <FromCountry countries={countries} onTake={take} onFail={fail} />
      <FromFile zones={zones} onTake={take} onFail={fail} />
      {told && <Notice kind={told.kind}>{told.text}</Notice>}
    </div>
  );
}

function ByHand({ onAdd }: { onAdd: (dates: readonly string[], name: string) => void }) {
  const [text, setText] = useState("");
  const [name, setName] = useState("");
  const checked = dateRangeSchema.safeParse(text.trim());
  const error = text.trim() === "" || checked.success ? null : (checked.error.issues[0]?.message ?? "not a date");
  return (
    <form
      className="flex items-start gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!checked.success) return;
        onAdd(holidayDates([checked.data]), name.trim());
        setText("");
        setName("");
      }}
    >
      <Field
        label="Date or date..date"
        className="w-[190px]"
        placeholder="2027-05-17"
        value={text}
        onChange={(event) => setText(event.target.value)}
        error={error}
      />
      <Field label="Name" className="w-[120px]" value={name} onChange={(event) => setName(event.target.value)} />
      <Button type="submit" className="mt-[21px]" disabled={!checked.success}>
        Add
      </Button>
    </form>
  );
}

type Taking = { onTake: (result: HolidaysResult, from: string) => void; onFail: (error: unknown) => void };

function FromCountry({ countries, onTake, onFail }: Taking & { countries: readonly Country[] }) {
  const [code, setCode] = useState("");
  const [isBusy, setIsBusy] = useState(false);
  const name = countries.find((country) => country.code === code)?.name ?? "";
  async function fetchThem() {
    setIsBusy(true);
    await ask<HolidaysResult>(`/api/countries/${code}`).then((result) => onTake(result, `the list of ${name}`), onFail);
    setIsBusy(false);
  }
  return (
    <div className="flex items-end gap-2">
      <Choice
        label="A country's public holidays"
        className="w-[260px]"
        value={code}
        options={[{ value: "", label: "choose" }, ...countries.map((country) => ({ value: country.code, label: country.name }))]}
        onChange={(event) => setCode(event.target.value)}
      />
      <Button onClick={() => void fetchThem()} disabled={code === "" || isBusy}>
        {isBusy ? "Taking…" : "Take"}
      </Button>
      <p className="max-w-[260px] pb-0.5 text-[13px] text-soft leading-4">
        {countries.length} countries have a list. One that is missing here comes by its calendar file, below.
      </p>
    </div>
  );
}

function FromFile({ zones, onTake, onFail }: Taking & { zones: readonly string[] }) {
  const [zone, setZone] = useState(zones[0] ?? "UTC");
  const id = useId();
  async function read(file: File) {
    if (file.size > FILE_MAX) {
      const size = `${(file.size / 1e6).toFixed(1)} MB`;
      onTake({ ok: false, line: 1, message: `the file has ${size}; a calendar of holidays has at most 1 MB` }, file.name);
      return;
    }
    const text = await file.text();
    await ask<HolidaysResult>("/api/calendars/ics", { method: "POST", body: { text, zone } }).then(
      (result) => onTake(result, file.name),
      onFail,
    );
  }
  return (
    <div className="flex items-end gap-2">
      <div>
        <label htmlFor={id} className="mb-0.5 block font-semibold text-[13px]">
          A calendar file (.ics)
        </label>
        <input
          id={id}
          type="file"
          accept=".ics,text/calendar"
          className="w-[220px] text-[13px] file:mr-2 file:h-[30px] file:cursor-pointer file:rounded-brick file:border file:border-ink/40 file:border-solid file:bg-raised file:px-3"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            if (file) void read(file);
            // The same file can be chosen again after it was changed.
            event.target.value = "";
          }}
        />
      </div>
      <Choice
        label="seen from"
        className="w-[110px]"
        value={zone}
        options={zones.map((value) => ({ value, label: placeOf(value) }))}
        onChange={(event) => setZone(event.target.value)}
      />
    </div>
  );
}
