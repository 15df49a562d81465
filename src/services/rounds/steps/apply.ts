import { afterChanges, isChange, NO_OVERRIDE_CHANGES } from "@/core/rounds";
import { HOUR_S } from "@/core/time";
import {
  addAlarmChanges,
  changeOverrides,
  lockRules,
  openActionList,
  type PoolClient,
  recordActions,
  saveActionState,
  saveAlarms,
  saveDecisions,
  saveHeldStops,
  saveHoursSeen,
  saveLastDue,
  signal,
  whileLeading,
} from "@/store";
import type { Changes, Round, RoundState } from "./round";

const ACTION_DEADLINE_S = 2 * HOUR_S;

/** Writes what a step changes, under the lease and in one transaction, and gives what the next step sees. Throws a LostLeadError where another leads. */
export async function applyChanges(round: Round, state: RoundState, changes: Changes): Promise<RoundState> {
  const { pool } = round.services;
  if (state.isRehearsal) return rehearsed(round, { ...state, ...changes.state }, changes);
  const seen = { ...state, ...changes.state };
  const next = hasWrites(changes)
    ? await whileLeading(pool, round.lead, (tx) => written(tx, round, { state: seen, changes }))
    : seen;
  if (changes.overrides && isChange(changes.overrides)) await signal(pool, "holds");
  return next;
}

function hasWrites({ overrides, alarms, ended, lastDue, decisions, actions, hoursSeen, heldStops }: Changes): boolean {
  const many = [ended, decisions, actions, alarms?.alarms, alarms?.gone, alarms?.changes].some((list) => (list?.length ?? 0) > 0);
  return (
    many ||
    (lastDue?.size ?? 0) + (hoursSeen?.size ?? 0) + (heldStops?.size ?? 0) > 0 ||
    (overrides !== undefined && isChange(overrides))
  );
}

type Writing = Readonly<{ state: RoundState; changes: Changes }>;

async function written(tx: PoolClient, { id, now }: Round, { state, changes }: Writing): Promise<RoundState> {
  const { overrides = NO_OVERRIDE_CHANGES, alarms, ended, lastDue, decisions, actions, hoursSeen, heldStops } = changes;
  const rules = isChange(overrides) ? await lockRules(tx) : null;
  const added = await changeOverrides(tx, overrides);
  if (alarms) {
    await saveAlarms(tx, alarms.alarms, alarms.gone);
    await addAlarmChanges(tx, alarms.changes, ({ state: said }) => said === "warned" || said === "tripped");
  }
  const changed = decisions ? await saveDecisions(tx, id, { decisions, isRehearsal: false }) : state.changed;
  for (const { action, status, lastAnswer } of ended ?? [])
    await saveActionState(tx, action, { ...action, status, lastAnswer, endedAt: now });
  if (actions) await recordActions(tx, actions, { roundId: id, at: now, deadline: now + ACTION_DEADLINE_S });
  if (lastDue) await saveLastDue(tx, lastDue);
  if (hoursSeen) await saveHoursSeen(tx, hoursSeen);
  if (heldStops) await saveHeldStops(tx, heldStops);
  return {
    ...state,
    changed,
    overrides: afterChanges(state.overrides, overrides, added),
    open: actions ? await openActionList(tx) : state.open,
    // What somebody else changed since the round read is not passed over by what it changes itself: it is looked at again before anything is sent.
    rules: rules !== null && rules === state.rules ? await lockRules(tx) : state.rules,
  };
}

/** A rehearsal keeps its decisions and nothing else; later steps see the rest as if it were kept. */
async function rehearsed({ id, services: { pool } }: Round, state: RoundState, changes: Changes): Promise<RoundState> {
  const { overrides = NO_OVERRIDE_CHANGES, decisions } = changes;
  const added = overrides.add.map((one, i) => ({ ...one, id: Number.MAX_SAFE_INTEGER - i, name: "", releasedAt: null }));
  const changed = decisions ? await saveDecisions(pool, id, { decisions, isRehearsal: true }) : state.changed;
  return { ...state, changed, overrides: afterChanges(state.overrides, overrides, added) };
}
