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
  if (content.empty !== null) return page(content, frame, big(escaped(emptyWords(content))));
  const missing = missingWords(content);
  const changes = changeWords(content.changes);
  const purchase = purchaseWords(content);
  const opened = (cost: string) => link(burnLink(content, frame), `<b>${cost}</b>`);
  const off =
    running.notDue > 0
      ? ` ${link(burnLink(content, frame, null, "not due"), `<b>${running.notDue} of them should not be</b>`, LOSS)} (${running.notDuePerHour} an hour).`
      : " None of it should be off.";
  return page(
    content,
    frame,
    [
      big(`<b>${running.count} running</b>, ${opened(running.perHour)} ${currency} an hour.${off}`),
      missing === "" ? "" : paragraph(`<b style="color:${LOSS}">${escaped(missing)}</b>`),
      paragraph(monthWords(content, opened).join(" ")),
      paragraph(spentWords(content, opened)),
      purchase === "" ? "" : paragraph(link(burnLink(content, frame, "purchase = spot"), escaped(purchase))),
      paragraph(
        strays.count > 0
          ? `${link(`${frame.url}/strays`, "Strays")}, before commitments: ${strayParts(strays)
              .map(({ count, words, perMonth }) => `${count} ${words}: <b>${perMonth}</b> ${currency} a month`)
              .join("; ")}. ${strays.kinds.map(({ kind, count }) => strayWords(kind, count)).join("; ")}.`
          : "No strays.",
      ),
      changes.length > 0 ? paragraph(`Since yesterday: ${escaped(changes.join("; "))}.`) : "",
      table("By region", content.byRegion, content, frame),
      table("By owner", content.byOwner, content, frame),
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
    link(`${frame.url}/`, "Open Umbrik", SOFT),
    ...(frame.unsubscribe ? [link(frame.unsubscribe, "no more of this report", SOFT)] : []),
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

function link(href: string, html: string, color = INK): string {
  return `<a href="${escaped(href)}" style="color:${color}">${html}</a>`;
}

function paragraph(html: string): string {
  return `<p style="margin:0 0 10px">${html}</p>`;
}

function table(title: string, rows: readonly ReportRow[], content: ReportContent, frame: ReportFrame): string {
  const head = `${CELL}text-align:left;font-size:13px;`;
  const lines = rows.map(
    ({ name, count, perHour, spent, filter }) =>
      `<tr><td style="${CELL}word-break:break-word">${filter === null ? escaped(name) : link(burnLink(content, frame, filter), escaped(name))}</td><td style="${NUMBER}">${count}</td><td style="${NUMBER}">${perHour}</td><td style="${NUMBER}">${spent ?? "\u2013"}</td></tr>`,
  );
  return `<table role="table" cellspacing="0" cellpadding="0" style="width:100%;border-collapse:collapse;margin:18px 0 0"><tr><th style="${head}">${title}</th><th style="${head}text-align:right">running</th><th style="${head}text-align:right">${content.currency} an hour</th><th style="${head}text-align:right">${spentHeading(content)}</th></tr>${lines.join("")}</table>`;
}

function machines({ machines: lines, moreMachines }: ReportContent, { zone, url }: ReportFrame): string {
  if (lines.length === 0) return "";
  const rows = lines.map(
    ({ id, name, owner, since, perHour, isNotDue }) =>
      `<tr><td style="${CELL}word-break:break-word">${isNotDue ? `<b style="color:${LOSS}">off</b> ` : ""}${link(`${url}/machines/${encodeURIComponent(id)}`, escaped(name))}${owner ? `<br><span style="color:${SOFT};font-size:13px">${escaped(owner)}, since ${timeText(since, zone)}</span>` : `<br><span style="color:${SOFT};font-size:13px">since ${timeText(since, zone)}</span>`}</td><td style="${NUMBER}">${link(`${url}/machines/${encodeURIComponent(id)}/cost`, perHour)}</td></tr>`,
  );
  const more = moreMachines > 0 ? `<p style="margin:8px 0">and ${link(`${url}/`, `${moreMachines} more`)}</p>` : "";
  return `<table role="table" cellspacing="0" cellpadding="0" style="width:100%;border-collapse:collapse;margin:18px 0 0"><tr><th style="${CELL}text-align:left;font-size:13px">What runs, what should be off first</th><th style="${CELL}text-align:right;font-size:13px">an hour</th></tr>${rows.join("")}</table>${more}`;
}
