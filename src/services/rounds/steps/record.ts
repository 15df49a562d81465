import { randomUUID } from "node:crypto";
import { type Decision, type HoursObserved, heldAfter, whyWords } from "@/core/rounds";
import { isWanted } from "../is-wanted";
import { type Changes, type EndedAction, nothing, type RoundState, step } from "./round";

/** Writes down what was decided, and every action before it is sent. What an earlier round recorded and this one does not want ends. */
export const record = step({
  name: "record",
  isRehearsed: true,
  ask: nothing,
  follow: (state): Changes => {
    const { decided, isRehearsal, snapshot } = state;
    const { decisions } = decided;
    if (isRehearsal) return { decisions };
    const accountOf = new Map(snapshot.resources.map(({ id, fields }) => [id, fields.account ?? ""]));
    const actions = decisions.flatMap(({ verdict, action, resourceId, due, isUnforeseen }) =>
      verdict === "act" && action
        ? // Random, so that a database that is made anew never meets a key the provider has seen.
          [
            {
              key: randomUUID(),
              resourceId,
              account: accountOf.get(resourceId) ?? "",
              verb: action.verb,
              level: action.level,
              due,
              isUnforeseen,
            },
          ]
        : [],
    );
    const heldStops = heldAfter(decisions, { held: state.held, now: state.now, isWhole: state.fleet === null });
    return { decisions, ended: overtaken(state), actions, hoursSeen: hoursNews(state), lastDue: asDueOnEdges(state), heldStops };
  },
});

/** Ends what an earlier round recorded and this one does not want, or wants otherwise. What was accepted is on its way. */
function overtaken({ open, decided }: RoundState): EndedAction[] {
  const byResource = new Map(decided.decisions.map((decision) => [decision.resourceId, decision]));
  return open.flatMap((action): EndedAction[] => {
    const decision = byResource.get(action.resourceId);
    // Where it waits, what was asked for stands; a round of one fleet says nothing of others.
    if (!decision || decision.verdict === "waiting" || isWanted(action, decision)) return [];
    if (decision.verdict !== "act" && action.isAccepted) return [];
    return [{ action, status: "given up", lastAnswer: `overtaken by another decision: ${whyWords(decision.reasons)}` }];
  });
}

/** What hours said, for the next round to see them fall. */
function hoursNews({ decided: { decisions, seen: before } }: RoundState): ReadonlyMap<string, HoursObserved | null> {
  const news = new Map<string, HoursObserved | null>();
  for (const { resourceId, seen } of decisions) {
    // The same object where nothing is new.
    if (seen !== null && seen !== before.get(resourceId)) news.set(resourceId, seen);
    if (seen === null && before.has(resourceId)) news.set(resourceId, null);
  }
  return news;
}

/** What is as due already, for fleets that act on edges. */
function asDueOnEdges({ snapshot, decided }: RoundState): ReadonlyMap<string, NonNullable<Decision["due"]>> {
  const onEdges = new Set(snapshot.fleets.filter(({ inForce }) => inForce?.enforce === "edges").map(({ name }) => name));
  return new Map(
    decided.decisions.flatMap(({ resourceId, fleet, due, verdict }) =>
      fleet && due !== null && onEdges.has(fleet) && verdict === "as due" ? [[resourceId, due] as const] : [],
    ),
  );
}
