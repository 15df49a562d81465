import Link from "next/link";
import type { OpenImport } from "@/services/usage";
import { ReportTabs } from "../reports/tabs";

/** One file of usage: what was taken, and every refused line with why. */
export function OneImport({ one, refusals }: OpenImport) {
  return (
    <div className="px-4 py-3">
      <ReportTabs />
      <h1 className="mb-2 font-medium text-[20px] leading-7">
        {one.fileName}: {one.linesTaken} lines taken, {one.linesRefused} refused
      </h1>
      {one.error && <p className="mb-2 text-loss">{one.error}</p>}
      <p className="mb-3">
        {one.status === "done" && (
          <>
            {one.billed} {one.currency} billed, {one.firstDay} to {one.lastDay}.{" "}
            <Link href={`/usage?import=${one.id}&from=${one.firstDay}&to=${one.lastDay}`}>Compare it with what was computed</Link>
            .{" "}
          </>
        )}
        <Link href="/usage">All files</Link>
      </p>
      {refusals.length > 0 && (
        <table className="w-full table-fixed">
          <thead className="text-left text-[13px]">
            <tr className="h-[26px] border-lines border-b">
              <th className="w-[80px] pr-4 text-right font-semibold">Line</th>
              <th className="w-[45%] font-semibold">Why it was refused</th>
              <th className="font-semibold">As it stands</th>
            </tr>
          </thead>
          <tbody>
            {refusals.map(({ line, reason, text }) => (
              <tr key={line} className="h-[26px] border-lines border-b">
                <td className="pr-4 text-right">{line}</td>
                <td className="pr-3">{reason}</td>
                <td className="truncate text-soft" title={text}>
                  {text}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {one.linesRefused > refusals.length && <p className="mt-1 text-soft">The first {refusals.length} are kept.</p>}
    </div>
  );
}
