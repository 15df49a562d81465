import { differingKeys, type FleetDraft, type PlanKey } from "@/core/plan";
import { DRAFT_PARTS } from "./draft-parts";

/** A part of a draft that two people may have changed apart, and how each has it, in words. */
export type DraftField = Readonly<{
  key: PlanKey;
  label: string;
  mine: string;
  theirs: string;
  isMineChanged: boolean;
  isTheirsChanged: boolean;
}>;

/** A week goes with the hours that name it: they are one choice. */
const WITH_HOURS: PlanKey = "schedule";

/** The parts in which two drafts differ that are chosen by themselves. */
function chosenApart(one: FleetDraft, other: FleetDraft): readonly PlanKey[] {
  const keys = differingKeys(one, other);
  if (!keys.includes(WITH_HOURS)) return keys;
  return [...new Set(keys.map((key) => (key === WITH_HOURS ? "hours" : key)))];
}

function wordsOf(draft: FleetDraft, key: PlanKey): string {
  const { words } = DRAFT_PARTS[key];
  if (key !== "hours") return words(draft);
  const week = DRAFT_PARTS[WITH_HOURS].words(draft);
  return `${words(draft)}, ${week}`;
}

/** Where two drafts differ, and who of the two has changed it since the one that both began with. */
export function differingFields(base: FleetDraft, mine: FleetDraft, theirs: FleetDraft): readonly DraftField[] {
  const [byMe, byThem] = [new Set(chosenApart(base, mine)), new Set(chosenApart(base, theirs))];
  return chosenApart(mine, theirs).map((key) => ({
    key,
    label: DRAFT_PARTS[key].label,
    mine: wordsOf(mine, key),
    theirs: wordsOf(theirs, key),
    isMineChanged: byMe.has(key),
    isTheirsChanged: byThem.has(key),
  }));
}

/** My draft with those parts as they have them. */
export function merged(mine: FleetDraft, theirs: FleetDraft, fromTheirs: ReadonlySet<string>): FleetDraft {
  const taken: Record<string, unknown> = { ...mine };
  const take = (key: PlanKey) => {
    // What they left out is left out.
    if (theirs[key] === undefined) delete taken[key];
    else taken[key] = theirs[key];
  };
  for (const key of fromTheirs) {
    take(key as PlanKey);
    if (key === "hours") take(WITH_HOURS);
  }
  return taken as FleetDraft;
}
