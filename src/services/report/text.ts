import { strayWords } from "@/core/strays";
import type { ReportContent, ReportRow } from "./compose";
import {
  burnLink,
  changeWords,
  emptyWords,
  missingWords,
  monthWords,
  purchaseWords,
  type ReportFrame,
  scopeWords,
  spentHeading,
  spentWords,
  strayParts,
  timeText,
} from "./words";

const plain = (text: string) => text.replaceAll("\u00a0", " ");

/** The report as plain text, at most 76 characters a line (RFC 3676 asks for 78 at most). */
export function reportText(content: ReportContent, frame: ReportFrame): string {
  const { running, currency, strays } = content;
  const head = `${frame.name}, ${timeText(content.at, frame.zone)}, for ${scopeWords(content.scope)}`;
  if (content.empty !== null) return [head, "", emptyWords(content), ...foot(content, frame)].join("\n");
  const missing = missingWords(content);
  const changes = changeWords(content.changes);
  const purchase = purchaseWords(content);
  return plain(
    [
      head,
      "",
      `${running.count} running, ${running.perHour} ${currency} an hour.`,
      ...(missing === "" ? [] : [missing]),
      ...monthWords(content),
      ...(running.notDue > 0 ? [`${running.notDue} of them should not be: ${running.notDuePerHour} an hour.`] : []),
      spentWords(content),
      ...(purchase === "" ? [] : [purchase]),
      ...(strays.count > 0
        ? [
            `Strays, before commitments: ${strayParts(strays)
              .map(({ count, words, perMonth }) => `${count} ${words}: ${perMonth} ${currency} a month`)
              .join("; ")}. ${kinds(content)}.`,
          ]
        : ["No strays."]),
      ...(changes.length > 0 ? [`Since yesterday: ${changes.join("; ")}.`] : []),
      "",
      ...table("By region", content.byRegion, content),
      "",
      ...table("By owner", content.byOwner, content),
      "",
      ...machines(content, frame),
      ...foot(content, frame),
    ].join("\n"),
  );
}

function kinds({ strays }: ReportContent): string {
  return strays.kinds.map(({ kind, count }) => strayWords(kind, count)).join("; ");
}

function table(title: string, rows: readonly ReportRow[], content: ReportContent): string[] {
  const cut = (text: string) => (text.length > 30 ? `${text.slice(0, 29)}…` : text);
  return [
    `${title.padEnd(32)}${"running".padStart(8)}${`${content.currency}/h`.padStart(12)}${spentHeading(content).padStart(14)}`,
    ...rows.map(
      ({ name, count, perHour, spent }) =>
        `${cut(name).padEnd(32)}${String(count).padStart(8)}${plain(perHour).padStart(12)}${plain(spent ?? "\u2013").padStart(14)}`,
    ),
  ];
}

function machines({ machines: lines, moreMachines, currency }: ReportContent, { zone, url }: ReportFrame): string[] {
  if (lines.length === 0) return [];
  return [
    "What runs, what should be off first:",
    ...lines.map(
      ({ name, owner, since, perHour, isNotDue }) =>
        `${isNotDue ? "! " : "  "}${name}${owner ? ` (${owner})` : ""}, ${plain(perHour)} ${currency}/h since ${timeText(since, zone)}`,
    ),
    ...(moreMachines > 0 ? [`  and ${moreMachines} more: ${url}/`] : []),
    "",
  ];
}

function foot(content: ReportContent, frame: ReportFrame): string[] {
  const { unsubscribe } = frame;
  return [
    "",
    `What each figure is made of: ${burnLink(content, frame)}`,
    ...(unsubscribe ? [`No more of this report: ${unsubscribe}`] : []),
    "",
  ];
}
