import { afterEach, beforeEach, expect, test } from "vitest";
import { DEMO_ACTOR, readiness, WORKER } from "@/services/admin";
import { attention, believeListing, openRound, pauseRounds, pauses, placeHold, resumeRounds, runRound } from "@/services/rounds";
import { resourceList } from "@/store";
import type { Fault, Passing } from "../support/faults";
import { within } from "../support/patience";
import { HOURLY, startTrusted, type Trusted } from "../support/trusted";

/** Bad days of a provider, against the real stand-in and PostgreSQL; faults are put in by a proxy between them. */
let trusted: Trusted;
beforeEach(async () => {
  trusted = await startTrusted();
}, within(60));
afterEach(() => trusted?.close());

const DESKS = "skerry-desks";
const only = (kind: Passing["kind"], account: string, fault: Fault) => (passing: Passing) =>
  passing.kind === kind && passing.account === account ? fault : undefined;

async function look() {
  return openRound(trusted.services, DEMO_ACTOR, { id: await trusted.round(), offset: 0 });
}

const changing = (type: string, since: number) =>
  trusted.keeper.world.events.filter((event) => event.type === type && event.at >= since).map(({ resource }) => resource);

test("an account that hangs is left alone with the reason, and the round of the others ends in time", async () => {
  await trusted.morning();
  trusted.nextEdge();
  trusted.faults.rule(({ account }) => (account === "skerry-survey" ? { kind: "hang" } : undefined));
  const began = performance.now();
  const { round } = await look();
  expect(performance.now() - began).toBeLessThan(within(10));
  expect(round.sent).toBe(28);
  expect(round.unread).toEqual({ "skerry-survey": expect.stringContaining("still being read") });
});

test("a listing in circles and a feed without end stop at a bound, and stop nobody else", async () => {
  await trusted.morning();
  trusted.nextEdge();
  let n = 0;
  trusted.faults.rule(({ account, kind }) => {
    if (account === "skerry-survey" && kind === "resources") return { kind: "edit", edit: (body) => ({ ...body, next: "1" }) };
    if (account === "skerry-south" && kind === "events")
      return {
        kind: "edit",
        edit: (body) => {
          const event = { n: 1e9 + ++n, at: 5, resource: "x", type: "stopped", state: "stopped", level: 0, note: "" };
          return { ...body, events: [event], isMore: true };
        },
      };
    return undefined;
  });
  const { round } = await look();
  expect(round.sent).toBe(28);
  expect(Object.keys(round.unread)).toEqual(["skerry-survey"]);
  expect(n).toBeLessThanOrEqual(50);
});

test("a price list that cannot be read idles no machine: it is said which part is missing, and read again at the next round", async () => {
  await trusted.morning();
  trusted.nextEdge();
  trusted.faults.rule(({ account, path }) =>
    account === DESKS && path.includes("/v1/prices") ? { kind: "answer", status: 500, body: "{}" } : undefined,
  );
  const { round } = await look();
  expect(round.unread).toEqual({});
  expect(round.sent).toBe(28);
  const part = { kind: "unread", account: DESKS, part: "prices" };
  expect(await attention(trusted.services, DEMO_ACTOR)).toContainEqual(
    expect.objectContaining({ ...part, error: expect.stringContaining("answered 500") }),
  );
  trusted.faults.rule(() => undefined);
  await trusted.rounds(1);
  expect((await attention(trusted.services, DEMO_ACTOR)).filter(({ kind }) => kind === "unread")).toEqual([]);
});

test("without its feed an account is listed and nothing is done in it: nobody knows whom a person has started since", async () => {
  await trusted.morning();
  trusted.nextEdge();
  trusted.faults.rule(({ account, kind }) =>
    account === DESKS && kind === "events" ? { kind: "answer", status: 500, body: "{}" } : undefined,
  );
  const { round } = await look();
  expect(round.unread).toEqual({ [DESKS]: expect.stringContaining("its feed was not read") });
  expect(round.sent).toBe(0);
  expect(trusted.running()).toBe(28);
  trusted.faults.rule(() => undefined);
  expect((await look()).round.sent).toBe(28);
});

test.each<[string, Fault]>([
  ["429", { kind: "answer", status: 429, body: "{}" }],
  ["500 with a page", { kind: "answer", status: 500, body: "<html>sorry</html>", type: "text/html" }],
  ["502 that claims to be a refusal", { kind: "answer", status: 502, body: '{"error":{"code":"not_possible","message":"no"}}' }],
  ["400 and garbage", { kind: "answer", status: 400, body: "\u0000\u0001" }],
  ["a redirect to elsewhere", { kind: "answer", status: 307, body: "" }],
  ["nothing, having done it", { kind: "deaf" }],
])("an action answered with %s is tried again, and done once", async (_, fault) => {
  await trusted.morning();
  trusted.nextEdge();
  const edge = trusted.keeper.now();
  trusted.faults.rule(only("act", DESKS, fault));
  await trusted.round();
  trusted.faults.rule(() => undefined);
  for (let i = 0; i < 4 && trusted.running() > 0; i++) {
    await trusted.rounds(1);
  }
  await trusted.rounds(1, 120);
  expect(trusted.running()).toBe(0);
  const told = changing("stopping", edge);
  expect(new Set(told).size).toBe(told.length);
});

test("an action that is accepted and never done is asked for again with its key until it is", async () => {
  await trusted.morning();
  trusted.nextEdge();
  trusted.faults.rule(only("act", DESKS, { kind: "swallow" }));
  expect((await look()).round.sent).toBe(28);
  trusted.faults.rule(() => undefined);
  await trusted.rounds(8);
  expect(trusted.running()).toBe(0);
});

test("a listing that lacks some is believed when a second one a round later agrees; meanwhile nothing there is touched", async () => {
  await trusted.morning();
  const before = (await resourceList(trusted.services.pool)).filter(({ fields }) => fields.account === DESKS).length;
  trusted.nextEdge();
  const lacking: Fault = {
    kind: "edit",
    edit: (body) => ({ ...body, resources: (body.resources as unknown[]).filter((_, i) => i % 4 !== 0) }),
  };
  trusted.faults.rule(only("resources", DESKS, lacking));
  const first = await look();
  expect(first.round.sent).toBe(0);
  expect(first.round.unread[DESKS]).toMatch(/doubted: it lacks \d+ of \d+; it is read again/);
  expect((await attention(trusted.services, DEMO_ACTOR)).map(({ kind }) => kind)).toContain("doubted");
  trusted.keeper.stepTo(trusted.keeper.now() + 60);
  const second = await look();
  expect(second.round.unread).toEqual({});
  expect(second.round.sent).toBeGreaterThan(15);
  const after = (await resourceList(trusted.services.pool)).filter(({ fields }) => fields.account === DESKS).length;
  expect(after).toBeLessThan(before);
});

test("an empty listing is never believed without a person, and forgotten when the next one is whole", async () => {
  await trusted.morning();
  trusted.nextEdge();
  trusted.faults.rule(only("resources", DESKS, { kind: "edit", edit: () => ({ resources: [], next: null }) }));
  for (let i = 0; i < 4; i++) {
    expect((await look()).round.unread[DESKS]).toContain("a person is asked");
    trusted.keeper.stepTo(trusted.keeper.now() + 60);
  }
  expect(trusted.running()).toBe(28);
  trusted.faults.rule(() => undefined);
  expect((await look()).round.sent).toBe(28);
  expect((await attention(trusted.services, DEMO_ACTOR)).some(({ kind }) => kind === "doubted")).toBe(false);

  trusted.faults.rule(only("resources", DESKS, { kind: "edit", edit: () => ({ resources: [], next: null }) }));
  await trusted.round();
  const doubted = (await attention(trusted.services, DEMO_ACTOR)).find(({ kind }) => kind === "doubted");
  if (doubted?.kind !== "doubted") throw new Error("no doubt");
  await expect(believeListing(trusted.services, DEMO_ACTOR, { account: DESKS, since: 5 })).rejects.toThrow("otherwise by now");
  await believeListing(trusted.services, DEMO_ACTOR, { account: DESKS, since: doubted.doubt.since });
  trusted.keeper.stepTo(trusted.keeper.now() + 60);
  expect((await look()).round.unread).toEqual({});
  expect((await resourceList(trusted.services.pool)).some(({ fields }) => fields.account === DESKS)).toBe(false);
});

test("a guard whose tag is gone from a listing holds for a day more", async () => {
  await trusted.morning();
  const [one] = trusted.desks();
  if (!one) throw new Error("no desk");
  one.tags["umbrik-guard"] = "";
  await trusted.round();
  delete one.tags["umbrik-guard"];
  trusted.nextEdge();
  await trusted.round();
  await trusted.rounds(1, 130);
  expect(
    trusted
      .desks()
      .filter((unit) => unit.life.at(-1)?.state === "running")
      .map(({ id }) => id),
  ).toEqual([one.id]);
  trusted.keeper.stepTo(trusted.keeper.now() + 86_400);
  await trusted.round();
  await trusted.rounds(1);
  const own = (await resourceList(trusted.services.pool)).find(({ name }) => name === one.name);
  expect(own?.guardedUntil).toBeNull();
});

test("one odd line is set aside alone: the rest of the account is acted on, and a person is told", async () => {
  await trusted.morning();
  trusted.nextEdge();
  const odd = (body: Record<string, unknown>) => ({
    ...body,
    resources: (body.resources as { name: string; tags: object }[]).map((line) =>
      line.name === "desk-osl-03" ? { ...line, tags: { ...line.tags, note: "a\u0000b" } } : line,
    ),
  });
  trusted.faults.rule(only("resources", DESKS, { kind: "edit", edit: odd }));
  const { round, decisions } = await look();
  expect(round.sent).toBe(27);
  expect(decisions.find(({ name }) => name === "desk-osl-03")).toMatchObject({
    verdict: "left",
    why: expect.stringContaining("has a character that is none"),
  });
  expect(await attention(trusted.services, DEMO_ACTOR)).toContainEqual({
    kind: "set aside",
    account: DESKS,
    odd: [expect.objectContaining({ name: "desk-osl-03" })],
  });
});

test("two accounts may have the same id: one's listing says nothing of what is the other's", async () => {
  await trusted.morning();
  const [desk] = trusted.desks();
  const stolen = (body: Record<string, unknown>) => {
    const lines = body.resources as Record<string, unknown>[];
    return { ...body, resources: lines.map((line, i) => (i === 0 ? { ...line, id: desk?.id } : line)) };
  };
  trusted.faults.rule(only("resources", "skerry-learn", { kind: "edit", edit: stolen }));
  await trusted.round();
  const own = (await resourceList(trusted.services.pool)).filter(({ id }) => id.endsWith(`:${desk?.id}`));
  expect(own.map(({ fields }) => fields.account).sort()).toEqual([DESKS, "skerry-learn"]);
  expect(own.find(({ fields }) => fields.account === DESKS)?.name).toBe(desk?.name);
});

test("a hold placed while a round sends keeps what it holds from being stopped, and a pause ends the sending", async () => {
  await trusted.morning();
  trusted.nextEdge();
  const { services } = trusted;
  let passed = 0;
  let placed: Promise<unknown> = Promise.resolve();
  trusted.faults.rule(({ kind }) => {
    if (kind !== "act" || ++passed !== 4) return undefined;
    return {
      kind: "meanwhile",
      before: () => {
        placed = pauseRounds(services, DEMO_ACTOR, { account: null, reason: "the harbour feast" });
      },
    };
  });
  const { round } = await look();
  await placed;
  // Those that were on their way already go; nothing is begun any more.
  expect(round.sent).toBeLessThan(28 - 4);
  const [pause] = await pauses(services, DEMO_ACTOR);
  expect(pause).toMatchObject({ account: null, reason: "the harbour feast", person: "demo" });
  trusted.keeper.stepTo(trusted.keeper.now() + 60);
  const paused = await look();
  expect(paused.round.sent).toBe(0);
  expect(
    paused.decisions.every(({ verdict, why }) => verdict === "left" && why.includes("paused by demo: the harbour feast")),
  ).toBe(true);
  await resumeRounds(services, DEMO_ACTOR, pause?.id ?? 0);

  const left = trusted.desks().find((unit) => unit.life.at(-1)?.state === "running");
  await placeHold(services, DEMO_ACTOR, { on: { resourceId: `${DESKS}:${left?.id}` }, level: 1, until: null, reason: "late" });
  await trusted.rounds(1);
  await trusted.rounds(1, 130);
  expect(
    trusted
      .desks()
      .filter((unit) => unit.life.at(-1)?.state === "running")
      .map(({ id }) => id),
  ).toEqual([left?.id]);
});

test("a key that is revoked in the middle of a round is no refusal of the actions: they go when it is back", async () => {
  await trusted.morning();
  trusted.nextEdge();
  let passed = 0;
  trusted.faults.rule(({ account }) => {
    if (account !== DESKS || ++passed < 15) return undefined;
    return { kind: "answer", status: 401, body: '{"error":{"code":"key_unknown","message":"no such key"}}' };
  });
  await trusted.round();
  trusted.keeper.stepTo(trusted.keeper.now() + 60);
  expect((await look()).round.unread[DESKS]).toContain("no such key");
  trusted.faults.rule(() => undefined);
  await trusted.rounds(4);
  expect(trusted.running()).toBe(0);
});

test("a clock that goes forward a day or back an hour: what is due then is done, and nothing that was decided before", async () => {
  await trusted.morning();
  trusted.nextEdge();
  let passed = 0;
  trusted.faults.rule(({ kind }) => {
    if (kind !== "act" || ++passed !== 4) return undefined;
    return { kind: "meanwhile", before: () => trusted.keeper.stepTo(trusted.keeper.now() + 86_400 + 3600) };
  });
  const { round } = await look();
  expect(round.sent).toBeLessThan(20);
  trusted.faults.rule(() => undefined);
  // It is an even hour of the next day: they are due on.
  await trusted.round();
  await trusted.rounds(1, 700);
  await trusted.rounds(1, 130);
  expect(trusted.running()).toBeGreaterThan(25);
  // Our clock alone goes back, into the hour before, when they were due off.
  const { services, keeper } = trusted;
  const wrong: typeof services = {
    ...services,
    clock: { ...services.clock, read: async () => ({ ...(await services.clock.read()), now: keeper.now() - 3600 }) },
  };
  const [on, since] = [trusted.running(), keeper.now()];
  for (let i = 0; i < 3; i++) {
    const id = await runRound(wrong, WORKER, "act");
    const { round: back } = await openRound(services, DEMO_ACTOR, { id: id ?? 0, offset: 0 });
    expect(back).toMatchObject({ status: "done", at: keeper.now() - 3600 });
    keeper.stepTo(keeper.now() + 61);
  }
  expect(changing("stopping", since)).toEqual([]);
  expect(trusted.running()).toBe(on);
  // Set right again, the next edge is kept.
  trusted.nextEdge();
  await trusted.rounds(3);
  expect(trusted.running()).toBe(0);
});

test("on edges a clear refusal is asked again at the next edge, and an action whose answer was lost is not lost", async () => {
  await trusted.close();
  trusted = await startTrusted(HOURLY.replace("enforce: always", "enforce: edges"));
  await trusted.morning();
  trusted.nextEdge();
  const refusal = '{"error":{"code":"not_possible","message":"a lock is on it"}}';
  let first = true;
  trusted.faults.rule(({ kind }) => {
    if (kind !== "act") return undefined;
    if (!first) return { kind: "answer", status: 503, body: "" };
    first = false;
    return { kind: "answer", status: 422, body: refusal };
  });
  const { decisions } = await look();
  expect(
    decisions.filter(({ actionStatus, lastAnswer }) => actionStatus === "refused" && lastAnswer === "a lock is on it"),
  ).toHaveLength(1);
  trusted.faults.rule(() => undefined);
  await trusted.rounds(5);
  // All but the refused one are off; that one is asked again at its next edges.
  expect(trusted.running()).toBe(1);
  await trusted.morning();
  trusted.nextEdge();
  await trusted.round();
  await trusted.rounds(1, 130);
  expect(trusted.running()).toBe(0);
});

test("what somebody starts again before the stop was seen is no stop that failed: always stops it anew, edges let it stand", async () => {
  for (const enforce of ["always", "edges"]) {
    await trusted.close();
    trusted = await startTrusted(HOURLY.replace("enforce: always", `enforce: ${enforce}, grace: 0`));
    await trusted.morning();
    trusted.nextEdge();
    await trusted.round();
    const [one] = trusted.desks();
    if (!one) throw new Error("no desk");
    // It stops and is started by its owner, all between two rounds.
    trusted.keeper.stepTo(trusted.keeper.now() + 60);
    const response = await fetch(`${trusted.faults.url}/norrhav/v1/resources/${one.id}/start`, {
      method: "POST",
      headers: {
        authorization: "Bearer demo-key-desks",
        "content-type": "application/json",
        "idempotency-key": `by hand ${enforce}`,
      },
      body: "{}",
    });
    expect(response.status).toBe(202);
    await trusted.rounds(1, 200);
    const { rows } = await trusted.services.pool.query(
      "select status, last_answer as answer from action where resource_id = $1 order by id desc limit 2",
      [`${DESKS}:${one.id}`],
    );
    const undone = rows.find(({ status }) => status === "done");
    expect(undone?.answer).toBe("seen, and changed by somebody since");
    await trusted.rounds(1, 130);
    expect(one.life.at(-1)?.state === "running", enforce).toBe(enforce === "edges");
  }
});

test("while the database's disk is full every page and a monitor say so, and the first round that ends well ends it", async () => {
  await trusted.morning();
  const { services, keeper } = trusted;
  const { pool } = services;
  // What PostgreSQL says where a table cannot grow, of the last thing that a round writes.
  await pool.query(`
    create function no_room() returns trigger language plpgsql as
      $$ begin raise exception 'could not extend file "base/1/2": No space left on device' using errcode = '53100'; end $$;
    create trigger no_room before update on round for each row when (new.status = 'done') execute function no_room();
  `);
  const kinds = async () => (await attention(services, DEMO_ACTOR)).map(({ kind }) => kind);
  const first = keeper.now() + 60;
  for (let i = 0; i < 3; i++) {
    expect(await kinds()).not.toContain("failing");
    await expect(trusted.rounds(1)).rejects.toThrow("No space left on device");
  }
  // Since the first of them, however many there are.
  await expect(trusted.rounds(1)).rejects.toThrow("No space left on device");
  expect(await attention(services, DEMO_ACTOR)).toContainEqual({
    kind: "failing",
    since: first,
    error: "the database's disk is full",
  });
  expect(await readiness(services, DEMO_ACTOR)).toMatchObject({
    isReady: false,
    why: expect.stringContaining("the database's disk is full"),
  });
  await pool.query("drop trigger no_room on round");
  await trusted.rounds(1);
  expect(await kinds()).not.toContain("failing");
});
