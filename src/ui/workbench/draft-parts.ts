import { type IdleRule, ruleWords } from "@/core/idle";
import { type FleetDraft, type PlanKey, pooledWords } from "@/core/plan";
import { mixSettingsWords, unhealthyWords } from "../mix/words";
import { rowText } from "./row-text";

/** A part of a draft as a reader meets it. */
type Part = Readonly<{ label: string; words: (draft: FleetDraft) => string }>;

const hoursWords = ({ hours }: FleetDraft) =>
  hours === null ? "none" : typeof hours === "string" ? hours : `from tag ${hours.fromTag}`;

const weekWords = ({ schedule }: FleetDraft) =>
  schedule === null
    ? "as stored"
    : `${schedule.zone}: ${schedule.rows.map((row) => `${[row.day].flat().join(" ")} ${row.off ? "off" : rowText(row)}`).join("; ")}`;

/** A rule with all that it says: whatever of it is changed can be read. */
function wholeRuleWords(rule: IdleRule): string {
  const { warn, settle, coverage, action, applies, interruptionWithin, startMinutes, step } = rule;
  const every = step === undefined ? "" : `, every ${step} min`;
  return `${ruleWords(rule)}, warned ${warn} min, ${action}, ${applies}, coverage ${coverage}, settled ${settle} min, ${interruptionWithin} and ${startMinutes} min${every}`;
}

/** How each part is called and reads: what differs from the plan in force, and what two people changed apart, say the same words. */
export const DRAFT_PARTS: Readonly<Record<PlanKey, Part>> = {
  select: { label: "Who", words: ({ select }) => select },
  hours: { label: "Hours", words: hoursWords },
  schedule: { label: "Week", words: weekWords },
  lead: { label: "Lead", words: ({ lead }) => `${lead} min` },
  offAction: { label: "Off means", words: ({ offAction }) => offAction },
  starts: { label: "Starts", words: ({ starts }) => (starts === "hand" ? "by hand only" : "by plan") },
  enforce: { label: "Enforce", words: ({ enforce }) => (enforce === "edges" ? "only at edges" : "at every round") },
  grace: { label: "Starts by hand are kept", words: ({ grace }) => `${grace} min` },
  size: { label: "Own size of groups", words: ({ size }) => (size === undefined ? "as before its plan" : String(size)) },
  pooled: { label: "Its people", words: ({ pooled }) => pooledWords(pooled) },
  mix: { label: "Mix", words: ({ mix }) => mixSettingsWords(mix) },
  unhealthy: { label: "Unhealthy members", words: ({ unhealthy }) => unhealthyWords(unhealthy) },
  idle: { label: "Idle rules", words: ({ idle }) => (idle ?? []).map(wholeRuleWords).join("; ") || "none" },
};
