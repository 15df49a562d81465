import { strayWords } from "@/core/strays";
import type { ReportContent, ReportRow } from "./compose";
import { changeWords, monthWords, type ReportFrame, scopeWords, spentHeading, spentWords, timeText } from "./words";

const INK = "#23213a";
const SOFT = "#5b5872";
const LINE = "#dad6cc";
const LOSS = "#b5452f";
const CELL = `padding:4px 8px;border-bottom:1px solid ${LINE};`;
const NUMBER = `${CELL}text-align:right;white-space:nowrap;`;

/** Text within HTML. */
export function escaped(text: string): string {
  return text.replace(/[&<>"']/g, (one) => `&#${one.charCodeAt(0)};`);
}

/** The report as HTML for mail: one column, tables for rows, styles in place, no picture and no script. */
export function reportHtml(content: ReportContent, frame: ReportFrame): string {
  const { running, currency, strays } = content;
  if (content.isEmpty) return page(content, frame, big("Nothing runs, and nothing is left lying about."));
  const changes = changeWords(content.changes);
  const off =
    running.notDue > 0
      ? ` <b style="color:${LOSS}">${running.notDue} of them should not be</b> (${running.notDuePerHour} an hour).`
      : " None of it should be off.";
  return page(
    content,
    frame,
    [
      big(`<b>${running.count} running</b>, <b>${running.perHour}</b> ${currency} an hour.${off}`),
      paragraph(escaped(monthWords(content).join(" "))),
      paragraph(spentWords(content, (cost) => `<b>${cost}</b>`)),
      paragraph(
        strays.count > 0
          ? `<a href="${escaped(frame.url)}/strays" style="color:${INK}">${strays.count} strays</a>, <b>${strays.perMonth}</b> ${currency} a month before commitments: ${strays.kinds.map(({ kind, count }) => strayWords(kind, count)).join("; ")}.`
          : "No strays.",
      ),
      changes.length > 0 ? paragraph(`Since yesterday: ${escaped(changes.join("; "))}.`) : "",
      table("By region", content.byRegion, content),
      table("By owner", content.byOwner, content),
      machines(content, frame),
    ].join("\n"),
  );
}

/** A mail with one thing to press. */
export function noticeHtml({ title, text, label, href }: { title: string; text: string; label: string; href: string }): string {
  return shell(
    title,
    `${big(escaped(title))}${paragraph(escaped(text))}<p style="margin:20px 0"><a href="${escaped(href)}" style="background:${INK};color:#fffdf8;padding:10px 16px;border-radius:3px;text-decoration:none;font-weight:bold">${escaped(label)}</a></p>`,
  );
}

function page(content: ReportContent, frame: ReportFrame, body: string): string {
  const foot = [
    `<a href="${escaped(frame.url)}/" style="color:${SOFT}">Open Umbrik</a>`,
    ...(frame.unsubscribe ? [`<a href="${escaped(frame.unsubscribe)}" style="color:${SOFT}">no more of this report</a>`] : []),
  ];
  const head = `${frame.name}, ${timeText(content.at, frame.zone)}, for ${scopeWords(content.scope)}`;
  return shell(
    frame.name,
    `<p style="margin:0 0 12px;color:${SOFT};font-size:13px">${escaped(head)}</p>${body}<p style="margin:24px 0 0;color:${SOFT};font-size:13px">${foot.join(" · ")}</p>`,
  );
}

function shell(title: string, body: string): string {
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1"><meta name="color-scheme" content="light"><title>${escaped(title)}</title></head>
<body style="margin:0;background:#f6f3ec"><div style="max-width:640px;margin:0 auto;padding:20px 16px;font:15px/22px Archivo,Helvetica,Arial,sans-serif;color:${INK}">
${body}
</div></body></html>`;
}

function big(html: string): string {
  return `<p style="margin:0 0 12px;font-size:18px;line-height:26px">${html}</p>`;
}

function paragraph(html: string): string {
  return `<p style="margin:0 0 10px">${html}</p>`;
}

function table(title: string, rows: readonly ReportRow[], content: ReportContent): string {
  const head = `${CELL}text-align:left;font-size:13px;`;
  const lines = rows.map(
    ({ name, count, perHour, spent }) =>
      `<tr><td style="${CELL}word-break:break-word">${escaped(name)}</td><td style="${NUMBER}">${count}</td><td style="${NUMBER}">${perHour}</td><td style="${NUMBER}">${spent ?? "\u2013"}</td></tr>`,
  );
  return `<table role="table" cellspacing="0" cellpadding="0" style="width:100%;border-collapse:collapse;margin:18px 0 0"><tr><th style="${head}">${title}</th><th style="${head}text-align:right">running</th><th style="${head}text-align:right">${content.currency} an hour</th><th style="${head}text-align:right">${spentHeading(content)}</th></tr>${lines.join("")}</table>`;
}

function machines({ machines: lines, moreMachines }: ReportContent, { zone, url }: ReportFrame): string {
  if (lines.length === 0) return "";
  const rows = lines.map(
    ({ id, name, owner, since, perHour, isNotDue }) =>
      `<tr><td style="${CELL}word-break:break-word">${isNotDue ? `<b style="color:${LOSS}">off</b> ` : ""}<a href="${escaped(url)}/machines/${encodeURIComponent(id)}" style="color:${INK}">${escaped(name)}</a>${owner ? `<br><span style="color:${SOFT};font-size:13px">${escaped(owner)}, since ${timeText(since, zone)}</span>` : `<br><span style="color:${SOFT};font-size:13px">since ${timeText(since, zone)}</span>`}</td><td style="${NUMBER}">${perHour}</td></tr>`,
  );
  const more =
    moreMachines > 0
      ? `<p style="margin:8px 0">and <a href="${escaped(url)}/" style="color:${INK}">${moreMachines} more</a></p>`
      : "";
  return `<table role="table" cellspacing="0" cellpadding="0" style="width:100%;border-collapse:collapse;margin:18px 0 0"><tr><th style="${CELL}text-align:left;font-size:13px">What runs, what should be off first</th><th style="${CELL}text-align:right;font-size:13px">an hour</th></tr>${rows.join("")}</table>${more}`;
}
