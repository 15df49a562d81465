import { afterEach, beforeEach, expect, test } from "vitest";
import { DEMO_ACTOR } from "@/services/admin";
import { approveStops, attention, openRound, pauseRounds, pauses, resumeRounds, setStopLimit } from "@/services/rounds";
import { heldStops } from "@/store";
import { within } from "../support/patience";
import { HOUR, startTrusted, type Trusted } from "../support/trusted";

/** A day of rounds, with an edge every hour, for each way in which stops are held up: by a doubt, a pause, a limit. */
const DESKS = "skerry-desks";
let trusted: Trusted;
beforeEach(async () => {
  trusted = await startTrusted();
}, within(60));
afterEach(() => trusted?.close());

const last = async () => (await openRound(trusted.services, DEMO_ACTOR, { id: await trusted.round(), offset: 0 })).round;

async function actionsSince(at: number): Promise<number> {
  const { rows } = await trusted.services.pool.query<{ n: number }>(
    "select count(*)::integer as n from action where recorded_at > to_timestamp($1)",
    [at],
  );
  return rows[0]?.n ?? 0;
}

/** A round every twenty minutes of a day. */
const dayOfRounds = () => trusted.rounds(24 * 3, 1200);

test(
  "in a day of doubt about an account nothing of it is touched, and the first whole listing is acted on",
  async () => {
    await trusted.morning();
    const from = trusted.keeper.now();
    trusted.faults.rule(({ account, kind }) =>
      account === DESKS && kind === "resources" ? { kind: "edit", edit: () => ({ resources: [], next: null }) } : undefined,
    );
    await dayOfRounds();
    expect(await actionsSince(from)).toBe(0);
    expect(trusted.running()).toBe(28);
    expect((await attention(trusted.services, DEMO_ACTOR)).some(({ kind }) => kind === "doubted")).toBe(true);
    trusted.faults.rule(() => undefined);
    trusted.keeper.stepTo((Math.floor(trusted.keeper.now() / (2 * HOUR)) * 2 + 1) * HOUR + 60);
    await trusted.rounds(3, 60);
    expect(trusted.running()).toBe(0);
  },
  within(120),
);

test(
  "in a day of pause nothing is done, and when it ends the hours are followed again",
  async () => {
    await trusted.morning();
    const from = trusted.keeper.now();
    await pauseRounds(trusted.services, DEMO_ACTOR, { account: null, reason: "the harbour feast" });
    await dayOfRounds();
    expect(await actionsSince(from)).toBe(0);
    expect(trusted.running()).toBe(28);
    const [pause] = await pauses(trusted.services, DEMO_ACTOR);
    await resumeRounds(trusted.services, DEMO_ACTOR, pause?.id ?? 0);
    trusted.keeper.stepTo((Math.floor(trusted.keeper.now() / (2 * HOUR)) * 2 + 1) * HOUR + 60);
    await trusted.rounds(3, 60);
    expect(trusted.running()).toBe(0);
  },
  within(120),
);

test(
  "what a limit holds is let go by a yes alone, and by nothing that an hour brings",
  async () => {
    await trusted.morning();
    await setStopLimit(trusted.services, DEMO_ACTOR, 5);
    trusted.nextEdge();
    await trusted.rounds(1, 60);
    const round = await last();
    expect(round.braked).toBe(28);
    // Until the hours want them on again.
    for (let i = 0; i < 5; i++) {
      await trusted.rounds(1, 600);
      expect(trusted.running()).toBe(28);
    }
    expect((await heldStops(trusted.services.pool)).size).toBe(28);
    const asked = await last();
    await approveStops(trusted.services, DEMO_ACTOR, { round: asked.id, stops: asked.braked });
    await trusted.rounds(2, 60);
    expect(trusted.running()).toBe(0);
    expect((await heldStops(trusted.services.pool)).size).toBe(0);
  },
  within(120),
);
