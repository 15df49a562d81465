import Papa from "papaparse";
import { providerIdOf } from "@/core/plan";
import { formatMicros, microsOf } from "@/core/pricing";
import { levelUnder, overriddenWords } from "@/core/rounds";
import { formatInstant } from "@/core/time";
import { type Actor, authorise, ESTATE, type Services } from "../../admin";
import { burnLines } from "./page";
import type { PricedLine } from "./priced";
import type { BurnQuery } from "./query";

/** What Burn shows under a query as CSV, all lines of it, in six decimals; cells that a spreadsheet would run are made harmless. */
export async function burnCsv(services: Services, actor: Actor, query: BurnQuery): Promise<{ file: string; text: string }> {
  authorise(actor, "look", ESTATE);
  const { page, parts, missing } = await burnLines(services, actor, query);
  const money = (amount: Parameters<typeof microsOf>[0] | null) => (amount === null ? "" : formatMicros(microsOf(amount)));
  const tagKey = query.group.startsWith("tag:") ? query.group.slice("tag:".length) : null;
  const tagOf = (tags: Readonly<Record<string, string>>) => (tagKey === null ? [] : [tags[tagKey] ?? ""]);
  const rows = parts.map((part) => {
    const { perHour, soFar, month, byMonthEnd, ifAsNow } = part;
    const amounts = [money(perHour), money(soFar), money(month), money(byMonthEnd), money(ifAsNow), page.currency, page.view];
    if (part.kind === "fee") {
      const { key, size, region, account, units } = part;
      return [
        key,
        `${units} x ${size}`,
        "commitment",
        "",
        account,
        "",
        region,
        size,
        "",
        "",
        "",
        ...amounts,
        "",
        "",
        ...tagOf({}),
      ];
    }
    const { resource } = part;
    const { fields, tags } = resource;
    const absence = missing.get(resource.id);
    const { fleet, due, why } =
      part.kind === "line"
        ? dueOf(part)
        : {
            fleet: part.fleet ?? "",
            due: absence === undefined ? "" : String(absence.due),
            why: absence === undefined ? "" : `should be on and is not: ${absence.lastAnswer}`,
          };
    return [
      providerIdOf(resource.id, resource.fields.account ?? ""),
      resource.name,
      resource.kind,
      tags.owner ?? "",
      fields.account ?? "",
      fields.provider ?? "",
      fields.region ?? "",
      fields.size ?? "",
      fleet,
      resource.state,
      formatInstant(resource.runSince ?? resource.since),
      ...amounts,
      due,
      why,
      ...tagOf(tags),
    ];
  });
  const text = `${Papa.unparse([[...HEADER, ...(tagKey === null ? [] : [`tag ${tagKey}`])], ...rows], { escapeFormulae: true })}\r\n`;
  return { file: `umbrik-burn-${formatInstant(page.at).slice(0, 16).replace(/[:]/g, "")}.csv`, text };
}

function dueOf({ resource, hold }: PricedLine): { fleet: string; due: string; why: string } {
  return {
    fleet: resource.fleet ?? "",
    due: String((hold ? levelUnder(hold, resource.due) : resource.due) ?? ""),
    why: hold ? overriddenWords(hold) : resource.why,
  };
}

const HEADER = [
  "id",
  "name",
  "kind",
  "owner",
  "account",
  "provider",
  "region",
  "size",
  "fleet",
  "state",
  "since",
  "per_hour",
  "so_far",
  "this_month",
  "by_month_end",
  "month_end_if_as_now",
  "currency",
  "commitments",
  "due_level",
  "why",
];
