import { ruleWords } from "@/core/idle";
import { type FleetDraft, pooledWords } from "@/core/plan";

import { isSameJson } from "../kit/same";
import { mixWords, unhealthyWords } from "../mix/words";
import { rowText } from "./draft";

/** A part of a draft that two people may have changed apart, and how each has it, in words. */
export type DraftField = Readonly<{
  key: string;
  label: string;
  mine: string;
  theirs: string;
  isMineChanged: boolean;
  isTheirsChanged: boolean;
}>;

type Part = Readonly<{
  label: string;
  /** What is compared. */
  of: (draft: FleetDraft) => unknown;
  words: (draft: FleetDraft) => string;
  /** The first with this part as the second has it. */
  take: (draft: FleetDraft, from: FleetDraft) => FleetDraft;
}>;

const hoursWords = ({ hours }: FleetDraft) =>
  hours === null ? "none" : typeof hours === "string" ? hours : `from tag ${hours.fromTag}`;
const plain = <K extends keyof FleetDraft>(key: K, label: string, words: (value: FleetDraft[K]) => string): Part => ({
  label,
  of: (draft) => draft[key],
  words: (draft) => words(draft[key]),
  take: (draft, from) => ({ ...draft, [key]: from[key] }),
});

/** One for each key, so that none is ever overlooked; a name is changed by itself, and a week goes with its hours. */
const PARTS: Readonly<Record<Exclude<keyof FleetDraft, "name" | "schedule">, Part>> = {
  select: plain("select", "Who", (text) => text),
  hours: {
    // The schedule being edited goes with the hours that name it.
    label: "Hours",
    of: ({ hours, schedule }) => [hours, schedule],
    words: (draft) =>
      draft.schedule === null
        ? `${hoursWords(draft)}, as stored`
        : `${hoursWords(draft)}, ${draft.schedule.zone}: ${draft.schedule.rows
            .map((row) => `${[row.day].flat().join(" ")} ${row.off ? "off" : rowText(row)}`)
            .join("; ")}`,
    take: (draft, { hours, schedule }) => ({ ...draft, hours, schedule }),
  },
  lead: plain("lead", "Lead", (minutes) => `${minutes} min`),
  grace: plain("grace", "Starts by hand are kept", (minutes) => `${minutes} min`),
  size: plain("size", "Own size of groups", (size) => (size === undefined ? "as before its plan" : String(size))),
  offAction: plain("offAction", "Off means", (word) => word),
  starts: plain("starts", "Starts", (word) => (word === "hand" ? "by hand only" : "by plan")),
  enforce: plain("enforce", "Enforce", (word) => (word === "edges" ? "only at edges" : "at every round")),
  idle: plain("idle", "Idle rules", (rules) => rules?.map(ruleWords).join("; ") ?? "none"),
  pooled: plain("pooled", "Its people", pooledWords),
  mix: plain("mix", "Mix", mixWords),
  unhealthy: plain("unhealthy", "Unhealthy members", unhealthyWords),
};

/** Where two drafts differ, and who of the two has changed it since the one that both began with. */
export function differingFields(base: FleetDraft, mine: FleetDraft, theirs: FleetDraft): readonly DraftField[] {
  return Object.entries(PARTS).flatMap(([key, { label, of, words }]) =>
    isSameJson(of(mine), of(theirs))
      ? []
      : [
          {
            key,
            label,
            mine: words(mine),
            theirs: words(theirs),
            isMineChanged: !isSameJson(of(base), of(mine)),
            isTheirsChanged: !isSameJson(of(base), of(theirs)),
          },
        ],
  );
}

/** My draft with those parts as they have them. */
export function merged(mine: FleetDraft, theirs: FleetDraft, fromTheirs: ReadonlySet<string>): FleetDraft {
  return Object.entries(PARTS).reduce((draft, [key, { take }]) => (fromTheirs.has(key) ? take(draft, theirs) : draft), mine);
}
