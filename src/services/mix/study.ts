import { everyChoice, type FrontierPoint, type Mix, mostWanted, simulateStretch, withChoice } from "@/core/mix";
import {
  addJob,
  addStudy,
  cancelStudy,
  endStudy,
  inTransaction,
  lastStudy,
  type MixStudy,
  maybeStudy,
  type StudyPart,
  type StudySums,
  savePart,
  takePart,
  wholeSums,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";

/** So many trials are one part, and so many points one study. */
const PART_TRIALS = 1_000;
const POINTS_MAX = 4_000;
const TRIALS_MAX = 10_000;
/** So many jobs of the queue share a study: as many workers may be at it. */
const SHARED_BY = 4;
/** Others get their turn after so many trials. */
const PIECE = 50;
const LOOK_AGAIN_MS = 500;
const SEED = 1;

export type StudyRequest = Readonly<{ fleet: string; mix: Mix; days: number; trials: number }>;

/**
 * Puts every point of a mix's frontier on the queue, in stretches of trials that all workers share; a study of the fleet that
 * is under way ends. Throws a RefusedError where that is more than anybody waits for.
 */
export async function startStudy(services: Services, actor: Actor, { fleet, mix, days, trials }: StudyRequest): Promise<number> {
  authorise(actor, "edit plans", { kind: "fleet", fleet });
  const choices = everyChoice(mix);
  if (choices.length > POINTS_MAX)
    throw new RefusedError(
      "invalid",
      `${choices.length} mixes for ${mostWanted(mix.wanted)} units are more than the ${POINTS_MAX} that one study tries`,
    );
  if (trials > TRIALS_MAX) throw new RefusedError("invalid", `a study has at most ${TRIALS_MAX} trials a mix`);
  const { now } = await services.clock.read();
  const perChoice = Math.ceil(trials / PART_TRIALS);
  const parts = choices.flatMap((_, choice) =>
    Array.from({ length: perChoice }, (__, i): StudyPart => {
      const first = i * PART_TRIALS;
      return { n: choice * perChoice + i, choice, first, count: Math.min(PART_TRIALS, trials - first) };
    }),
  );
  return inTransaction(services.pool, async (tx) => {
    const study = { fleet, mix, choices, days, trials, seed: SEED, askedBy: actor.name, askedAt: now };
    const id = await addStudy(tx, study, parts);
    for (let i = 0; i < SHARED_BY; i++) await addJob(tx, "mix-study", { payload: { id }, key: `mix study ${id} ${i}` });
    return id;
  });
}

/** Works on a study until none of its parts is left for this worker, it is cancelled, or the process stops. Returns whether there is nothing left to do. */
export async function runStudy(
  { pool, clock }: Services,
  actor: Actor,
  { id, stopping }: Readonly<{ id: number; stopping?: AbortSignal }>,
): Promise<boolean> {
  authorise(actor, "work", ESTATE);
  for (;;) {
    if (stopping?.aborted) return false;
    const study = await maybeStudy(pool, id);
    if (!study || study.doneAt !== null || study.cancelledAt !== null) return true;
    const part = await takePart(pool, id);
    if (!part) {
      const whole = await wholeSums(pool, id);
      if (whole) {
        await endStudy(pool, id, { at: (await clock.read()).now, points: pointsOf(study, whole) });
        return true;
      }
      // Others still have some; what one that died had is given up after a while.
      await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
      continue;
    }
    const sums = await sumsOf(study, part, stopping);
    if (!sums) return false;
    await savePart(pool, id, part.n, sums);
  }
}

/** A part in pieces, so that rounds of the same process are not kept waiting; null where the process stops. */
async function sumsOf(
  { mix, choices, days, seed }: MixStudy,
  part: StudyPart,
  stopping?: AbortSignal,
): Promise<StudySums | null> {
  const choice = choices[part.choice];
  if (!choice) throw new Error(`a study has no choice ${part.choice}`);
  const own = withChoice(mix, choice);
  let [cost, missing, floor] = [0, 0, 0];
  for (let at = 0; at < part.count; at += PIECE) {
    if (stopping?.aborted) return null;
    const count = Math.min(PIECE, part.count - at);
    const { outcomes } = simulateStretch(own, { seed, days, first: part.first + at, count, fanPoints: 0 });
    for (let i = 0; i < count; i++) {
      cost += outcomes.cost[i] as number;
      missing += outcomes.missingUnitHours[i] as number;
      floor += outcomes.atLeastFloor[i] as number;
    }
    await new Promise((resolve) => setTimeout(resolve, 0));
  }
  return [cost, missing, floor];
}

/** Means of every choice, added up in the order of parts, so that they are the same whoever ran them. */
function pointsOf({ choices, trials }: MixStudy, whole: NonNullable<Awaited<ReturnType<typeof wholeSums>>>): FrontierPoint[] {
  const sums = choices.map(() => [0, 0, 0]);
  for (const { choice, sums: own } of whole)
    own.forEach((value, i) => {
      const line = sums[choice] as number[];
      line[i] = (line[i] as number) + value;
    });
  return choices.map((choice, i) => {
    const [cost = 0, missing = 0, floor = 0] = sums[i] as number[];
    return { ...choice, cost: cost / trials, missingUnitHours: missing / trials, atLeastFloor: floor / trials };
  });
}

export type StudyView = Readonly<{
  id: number;
  mix: Mix;
  days: number;
  trials: number;
  mixes: number;
  done: number;
  parts: number;
  state: "under way" | "done" | "cancelled";
  points: readonly FrontierPoint[] | null;
}>;

/** The last study of a fleet and how far it is; null where there is none. */
export async function studyOf({ pool }: Services, actor: Actor, fleet: string): Promise<StudyView | null> {
  authorise(actor, "look", ESTATE);
  const last = await lastStudy(pool, fleet);
  if (!last) return null;
  const { study, done, parts } = last;
  const { id, mix, days, trials, points } = study;
  const state = study.doneAt !== null ? "done" : study.cancelledAt !== null ? "cancelled" : "under way";
  return { id, mix, days, trials, mixes: study.choices.length, done, parts, state, points };
}

/** Ends a study; what is under way of it is thrown away. */
export async function endStudyEarly({ pool, clock }: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "edit plans", ESTATE);
  await cancelStudy(pool, id, (await clock.read()).now);
}
