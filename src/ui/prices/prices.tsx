"use client";
import { Fragment, useState } from "react";
import { utcDate } from "@/core/time";
import type { PriceBookView } from "@/services/cost";
import { AtLink } from "../as-of/at-link";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { Commitments } from "./commitments";
import { Discounts } from "./discounts";
import { OverrideForm } from "./override-form";
import { PriceHistory } from "./price-history";
import { PricesIn } from "./prices-in";

export type PricesProps = { view: PriceBookView; today: string };

const day = (t: number) => utcDate(t);

/** The price book as of an instant, what was set by hand, and the commitments. */
export function Prices({ view, today }: PricesProps) {
  const [provider, setProvider] = useState("");
  const [word, setWord] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const words = word.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = view.rows.filter((row) => {
    const text = `${row.key} ${row.unit} ${row.source}`.toLowerCase();
    return (provider === "" || row.of.provider === provider) && words.every((one) => text.includes(one));
  });
  const byHand = view.rows.filter(({ source }) => source === "hand").length;
  return (
    <div className="px-4 py-3">
      <div className="mb-2 flex items-baseline justify-between gap-4">
        <h1 className="font-medium text-[20px] leading-7">
          {view.rows.length} prices{byHand > 0 ? `, ${byHand} of them set by hand` : ", all as the providers say"}.
        </h1>
        <AtLink href="/setup">Setup</AtLink>
      </div>
      <Commitments view={view} />
      <Discounts view={view} />
      <div className="mt-4 mb-2 flex items-end gap-3">
        <h2 className="py-1 font-semibold text-[15px]">Price book, {view.currency}</h2>
        <Field
          label="Find a price"
          isLabelHidden
          className="w-[240px]"
          placeholder="Find: sloop windows fjord-1"
          value={word}
          onChange={(event) => setWord(event.target.value)}
        />
        <Choice
          label="Provider"
          isLabelBeside
          value={provider}
          options={[{ value: "", label: "all" }, ...view.providers.map((name) => ({ value: name, label: name }))]}
          onChange={(event) => setProvider(event.target.value)}
        />
        <span className="ml-auto py-1.5">
          <a href="/api/prices/csv" download>
            Save as CSV
          </a>
        </span>
      </div>
      <table className="w-full table-fixed">
        <thead className="text-left text-[13px]">
          <tr className="h-[26px] border-lines border-b">
            <th className="w-[110px] font-semibold">Provider</th>
            <th className="w-[120px] font-semibold">Region</th>
            <th className="w-[150px] font-semibold">Item</th>
            <th className="font-semibold">For</th>
            <th className="w-[110px] text-right font-semibold">Rate</th>
            <th className="w-[110px] pl-2 font-semibold">per</th>
            <th className="w-[230px] font-semibold">Counts since, UTC</th>
            <th className="w-[90px]">
              <span className="sr-only">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.slice(0, 300).map((row) => (
            <Fragment key={row.key}>
              <tr className="h-[26px] border-lines border-b">
                <td>{row.of.provider}</td>
                <td>{row.of.region}</td>
                <td>{row.of.item}</td>
                <td className="truncate">
                  {row.what}
                  {row.coresMin > 0 && <span className="text-soft">, at least {row.coresMin} cores</span>}
                </td>
                <td className={`text-right ${row.source === "hand" ? "font-semibold" : ""}`}>{row.rate}</td>
                <td className="pl-2 text-soft">{row.unit}</td>
                <td className="truncate">
                  {day(row.since)}
                  {row.source === "hand" && (
                    <span className="text-attention">, by hand{row.told ? `; told ${row.told}` : ""}</span>
                  )}
                </td>
                <td className="text-right">
                  <button
                    type="button"
                    aria-expanded={open === row.key}
                    aria-label={`${open === row.key ? "close" : "open"} ${row.key}`}
                    className="text-attention underline-offset-2 hover:underline"
                    onClick={() => setOpen(open === row.key ? null : row.key)}
                  >
                    {open === row.key ? "close" : "open"}
                  </button>
                </td>
              </tr>
              {open === row.key && (
                <tr className="border-lines border-b bg-raised">
                  <td colSpan={8} className="px-3 py-2">
                    <OverrideForm row={row} today={today} onDone={() => setOpen(null)} />
                    <PriceHistory of={row.key} />
                  </td>
                </tr>
              )}
            </Fragment>
          ))}
        </tbody>
      </table>
      {shown.length > 300 && <p className="mt-1 text-soft">The first 300 of {shown.length}: narrow the search.</p>}
      <div className="mt-4">
        <PricesIn last={view.lastImport} />
      </div>
    </div>
  );
}
