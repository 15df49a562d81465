import { everyChoice, type FrontierPoint, type Mix, mostWanted, trialSeconds, withChoice } from "@/core/mix";
import {
  addJob,
  addStudy,
  cancelStudy,
  endStudy,
  failStudy,
  inTransaction,
  isStudyWanted,
  keepPart,
  lastStudy,
  type MixStudy,
  maybeStudy,
  type StudyPart,
  type StudySums,
  savePart,
  takePart,
  wholeSums,
} from "@/store";
import {
  type Actor,
  authorise,
  CutOffError,
  ESTATE,
  openThread,
  RefusedError,
  type Services,
  type Thread,
  TooHeavyError,
} from "../admin";
import type { SumsAsked } from "./sum-trials";

/** So many trials are one part at most, or what takes so many seconds; and so many points are one study. */
const PART_TRIALS = 1_000;
const PART_SECONDS = 10;
const POINTS_MAX = 4_000;
const TRIALS_MAX = 10_000;
/** So many jobs of the queue share a study: as many workers may be at it. */
const SHARED_BY = 4;
/** What likely takes more computing than this is nothing that anybody waits for. */
const SECONDS_MAX = 3_600;
/** A part that takes so much longer than it should, or its thread so much memory, ends the study. */
const PART_WITHIN_MS = 120_000;
const MEMORY_MB = 400;
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
  const perTrial = trialSeconds(mix, days);
  const seconds = perTrial * trials * choices.length;
  if (seconds > SECONDS_MAX)
    throw new RefusedError(
      "invalid",
      `${choices.length} mixes, ${trials} trials each over ${days} days, would take some ${Math.ceil(seconds / 3_600)} hours of computing, and at most ${SECONDS_MAX / 3_600} is given: try fewer days or trials`,
    );
  const { now } = await services.clock.read();
  const partTrials = Math.max(1, Math.min(PART_TRIALS, Math.floor(PART_SECONDS / perTrial)));
  const perChoice = Math.ceil(trials / partTrials);
  const parts = choices.flatMap((_, choice) =>
    Array.from({ length: perChoice }, (__, i): StudyPart => {
      const first = i * partTrials;
      return { n: choice * perChoice + i, choice, first, count: Math.min(partTrials, trials - first) };
    }),
  );
  return inTransaction(services.pool, async (tx) => {
    const study = { fleet, mix, choices, days, trials, seed: SEED, askedBy: actor.name, askedAt: now };
    const id = await addStudy(tx, study, parts);
    for (let i = 0; i < SHARED_BY; i++) await addJob(tx, "mix-study", { payload: { id }, key: `mix study ${id} ${i}` });
    return id;
  });
}

type SumsThread = Thread<SumsAsked, StudySums>;

/**
 * Works on a study, in a thread of its own, until none of its parts is left for this worker, it is cancelled, fails, or the
 * process stops. Returns whether there is nothing left to do.
 */
export async function runStudy(
  services: Services,
  actor: Actor,
  { id, stopping }: Readonly<{ id: number; stopping?: AbortSignal }>,
): Promise<boolean> {
  authorise(actor, "work", ESTATE);
  const { pool, clock } = services;
  let thread: SumsThread | null = null;
  try {
    for (;;) {
      if (stopping?.aborted) return false;
      const study = await maybeStudy(pool, id);
      if (!study || !(await isStudyWanted(pool, id))) return true;
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
      thread ??= await openThread<SumsAsked, StudySums>("services/mix/study-thread", MEMORY_MB);
      await savePart(pool, id, part.n, await sumsOf(services, { study, part, thread, stopping }));
    }
  } catch (error) {
    if (error instanceof CutOffError) return !stopping?.aborted;
    if (!(error instanceof TooHeavyError)) throw error;
    await failStudy(pool, id, error.message);
    return true;
  } finally {
    await thread?.close();
  }
}

type Working = Readonly<{ study: MixStudy; part: StudyPart; thread: SumsThread; stopping: AbortSignal | undefined }>;

/** The sums of a part. Cut off (CutOffError) within a second of when nobody waits for them any more, or the process stops. */
async function sumsOf({ pool }: Services, { study, part, thread, stopping }: Working): Promise<StudySums> {
  const { id, mix, choices, days, seed } = study;
  const choice = choices[part.choice];
  if (!choice) throw new Error(`a study has no choice ${part.choice}`);
  const cut = new AbortController();
  const look = async () => {
    // A database that does not answer says nothing: the part goes on.
    const isWanted = await isStudyWanted(pool, id).catch(() => true);
    if (!isWanted) cut.abort();
    else await keepPart(pool, id, part.n).catch(() => {});
  };
  const looking = setInterval(() => void look(), LOOK_AGAIN_MS);
  const signal = stopping ? AbortSignal.any([stopping, cut.signal]) : cut.signal;
  try {
    const { first, count } = part;
    return await thread.ask({ mix: withChoice(mix, choice), days, seed, first, count }, { withinMs: PART_WITHIN_MS, signal });
  } finally {
    clearInterval(looking);
  }
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
  state: "under way" | "done" | "cancelled" | "failed";
  /** Why it failed. */
  failure: string | null;
  points: readonly FrontierPoint[] | null;
}>;

/** The last study of a fleet and how far it is; null where there is none. */
export async function studyOf({ pool }: Services, actor: Actor, fleet: string): Promise<StudyView | null> {
  authorise(actor, "look", ESTATE);
  const last = await lastStudy(pool, fleet);
  if (!last) return null;
  const { study, done, parts } = last;
  const { id, mix, days, trials, failure, points } = study;
  return { id, mix, days, trials, mixes: study.choices.length, done, parts, state: stateOf(study), failure, points };
}

function stateOf({ doneAt, cancelledAt, failure }: MixStudy): StudyView["state"] {
  if (doneAt !== null) return "done";
  if (failure !== null) return "failed";
  return cancelledAt !== null ? "cancelled" : "under way";
}

/** Ends a study; what is under way of it is thrown away. */
export async function endStudyEarly({ pool, clock }: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "edit plans", ESTATE);
  await cancelStudy(pool, id, (await clock.read()).now);
}
