"use client";
import Link from "next/link";
import { useState } from "react";
import type { CorrectionView, Reconciliation, UsageImport } from "@/services/usage";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { ReportTabs } from "../reports/tabs";
import { Corrections } from "./corrections";
import { ImportBox } from "./import-box";

export type UsageProps = {
  result: Reconciliation;
  corrections: readonly CorrectionView[];
  imports: readonly UsageImport[];
  importId: number;
  now: number;
  zone: string;
};

/** The providers' lines beside what was computed, and FOCUS files in and out. */
export function Usage({ result, corrections, imports, importId, now, zone }: UsageProps) {
  const { differences, days, reasons, currency, agreeing } = result;
  const [from, setFrom] = useState(result.from);
  const [to, setTo] = useState(result.to);
  const source = importId === 0 ? "the meter" : `import ${importId}`;
  const query = `from=${from}&to=${to}${importId === 0 ? "" : `&import=${importId}`}`;
  return (
    <div className="px-4 py-3">
      <ReportTabs />
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h1 className="font-medium text-[20px] leading-7">
          {days.length === 0
            ? "Nothing to compare: the meter is read when a UTC day is over."
            : result.differenceCount === 0
              ? `All ${agreeing} resource-days agree with ${source}, each to a millionth.`
              : `${agreeing} resource-days agree with ${source}, ${result.differenceCount} differ.`}
        </h1>
        <form action="/usage" className="flex flex-wrap items-end gap-2">
          {importId !== 0 && <input type="hidden" name="import" value={importId} />}
          <Field label="From" name="from" type="date" value={from} onChange={(event) => setFrom(event.target.value)} />
          <Field label="To" name="to" type="date" value={to} onChange={(event) => setTo(event.target.value)} />
          <Button type="submit">Compare</Button>
          <span className="py-1.5">
            <a href={`/api/usage/export?${query}`} download>
              Save as FOCUS CSV
            </a>
          </span>
        </form>
      </div>
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(0,4fr)_minmax(0,7fr)] gap-6">
        <section aria-label="By day">
          <table className="w-full">
            <thead className="text-left text-[13px]">
              <tr className="h-[26px] border-lines border-b">
                <th className="font-semibold">UTC day, {currency}</th>
                <th className="text-right font-semibold">computed</th>
                <th className="text-right font-semibold">metered</th>
                <th className="text-right font-semibold">difference</th>
              </tr>
            </thead>
            <tbody>
              {days.map(({ day, computed, metered, difference }) => (
                <tr key={day} className="h-[26px] border-lines border-b">
                  <td>{day}</td>
                  <td className="text-right">{computed}</td>
                  <td className="text-right">{metered}</td>
                  <td className="text-right">{difference}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {result.expected.length > 0 && (
            <p className="mt-2 text-[13px]">
              Expected, and taken off first:{" "}
              {result.expected.map(({ reason, count, difference }) => `${reason} ${difference} (${count})`).join(", ")}.
            </p>
          )}
          {reasons.length > 0 && (
            <>
              <h2 className="mt-4 mb-1 font-semibold text-[15px]">Why they differ</h2>
              <ul>
                {reasons.map(({ reason, count, difference }) => (
                  <li key={reason} className="flex justify-between gap-3 border-lines border-b py-0.5">
                    <span>
                      {reason} <span className="text-soft">({count})</span>
                    </span>
                    <span>{difference}</span>
                  </li>
                ))}
              </ul>
            </>
          )}
          <p className="mt-2 text-[13px] text-soft">
            Computed is before commitments. Read through {result.readThrough ?? "no day yet"}, reckoned through{" "}
            {result.closedThrough ?? "no day yet"}, UTC.
          </p>
        </section>
        <section aria-label="Differences" className="min-w-0">
          {differences.length > 0 && (
            <table className="w-full table-fixed">
              <thead className="text-left text-[13px]">
                <tr className="h-[26px] border-lines border-b">
                  <th className="w-[92px] font-semibold">UTC day</th>
                  <th className="font-semibold">Resource</th>
                  <th className="w-[92px] text-right font-semibold">computed</th>
                  <th className="w-[92px] pr-3 text-right font-semibold">metered</th>
                  <th className="w-[220px] font-semibold">Why</th>
                </tr>
              </thead>
              <tbody>
                {differences.map((line) => (
                  <tr key={`${line.resourceId} ${line.day}`} className="h-[26px] border-lines border-b">
                    <td>{line.day}</td>
                    <td className="truncate pr-2" title={`${line.name}, ${line.account}`}>
                      {line.name}
                    </td>
                    <td className="text-right">{line.computed}</td>
                    <td className="pr-3 text-right">{line.metered}</td>
                    <td className="truncate" title={line.reason}>
                      {line.reason}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {result.differenceCount > differences.length && (
            <p className="mt-1 flex gap-3 text-[13px] text-soft">
              {result.offset + 1} to {result.offset + differences.length} of {result.differenceCount}, the largest first.
              {result.offset > 0 && (
                <Link href={`/usage?${query}&offset=${Math.max(0, result.offset - differences.length)}`}>larger</Link>
              )}
              {result.offset + differences.length < result.differenceCount && (
                <Link href={`/usage?${query}&offset=${result.offset + differences.length}`}>smaller</Link>
              )}
            </p>
          )}
          <Corrections corrections={corrections} currency={currency} zone={zone} now={now} />
          <ImportBox imports={imports} now={now} zone={zone} />
          {importId !== 0 && <Link href="/usage">Compare with the meter again</Link>}
        </section>
      </div>
    </div>
  );
}
