import { type Mix, orderHazard, type Pool } from "../mix";

/**
 * The rules of docs/model.md (capacity mix) once more, as plainly as they can be written: a minute at a time, lists
 * that are searched, nothing kept that can be counted. Lengths of the mix are whole minutes. Slow; for tests alone.
 */
export type SlowTrial = Readonly<{
  cost: number;
  evictions: number;
  missingUnitHours: number;
  fallbackHours: number;
  longestShortfallHours: number;
  refillMinutes: number | null;
  atLeastFloor: number;
}>;

type Machine = {
  pool: Pool;
  state: "provisioned" | "set up" | "up";
  /** When it is in its next state. */
  nextAt: number;
  isRestart: boolean;
  /** What it makes good: units of evictions, or of firm units that stand in. */
  replaces: { what: Eviction | Firm | null; units: number }[];
};
type Eviction = { at: number; open: number };
type Gap = { since: number; units: number; disk: Pool | null; eviction: Eviction | null };
type Firm = Gap & { state: "provisioned" | "set up" | "up"; nextAt: number };

const HOUR = 60;

export function slowTrial(mix: Mix, minutes: number, chance: () => number): SlowTrial {
  const provision = mix.provisionMinutes ?? 0;
  const setup = mix.setupMinutes ?? 0;
  const within = (ratePerHour: number) => ratePerHour > 0 && chance() < -Math.expm1(-ratePerHour / HOUR);
  const rates = new Map(mix.pools.map((pool) => [pool, numberOf(pool.hazard)]));
  const dry = new Map(mix.pools.map((pool) => [pool, startsDry(pool, chance)]));
  const since = new Map(mix.pools.map((pool) => [pool, 0]));
  const evicted: Eviction[] = [];
  const refills: number[] = [];
  let machines: Machine[] = [];
  let gaps: Gap[] = [];
  let firms: Firm[] = [];
  let now = 0;
  let cost = 0;
  let missing = 0;
  let fallback = 0;
  let floorMinutes = 0;
  let short = 0;
  let longest = 0;

  const wantedAt = (t: number) =>
    typeof mix.wanted === "number"
      ? mix.wanted
      : (mix.wanted.find(({ from, to }) => from * HOUR <= t && t < to * HOUR)?.units ?? 0);
  const firmAt = (t: number) => Math.min(mix.firm, wantedAt(t));
  /** The minute each firm unit was asked for, the oldest first; those of the beginning were always there. */
  let firmSince: number[] = Array.from({ length: firmAt(0) }, () => Number.NEGATIVE_INFINITY);
  const firmAfter = (minutes: number) => firmSince.filter((asked) => asked + minutes <= now).length;
  const priceOf = (pool: Pool) =>
    pool.priceSeries ? (pool.priceSeries[Math.floor(now / HOUR) % pool.priceSeries.length] as number) : (pool.price as number);
  const isOver = (pool: Pool) => pool.cap != null && priceOf(pool) > pool.cap;
  const canBeHad = (pool: Pool) => !isOver(pool) && !dry.get(pool);
  const heldOf = (pool: Pool) => machines.filter((m) => m.pool === pool).length * pool.unitsPerMachine;
  const weightOf = (pool: Pool) => (mix.order === "blend" ? 1 / (priceOf(pool) * (1 + orderHazard(pool))) : 1);
  const shareOf = (pool: Pool) => {
    const sum = mix.pools.reduce((total, one) => total + weightOf(one), 0);
    return (weightOf(pool) / sum) * (wantedAt(now) - firmAt(now));
  };
  const isRanked = mix.order === "cheapest" || mix.order === "steadiest";
  const rankOf = (pool: Pool) => (mix.order === "cheapest" ? priceOf(pool) / pool.unitsPerMachine : orderHazard(pool));
  const choose = (pools: readonly Pool[], room: number): Pool | null => {
    const fits = pools.filter((pool) => pool.unitsPerMachine <= room);
    if (isRanked) return [...fits].sort((a, b) => rankOf(a) - rankOf(b))[0] ?? null;
    let best: Pool | null = null;
    for (const pool of fits) if (!best || shareOf(pool) - heldOf(pool) > shareOf(best) - heldOf(best) + 1e-9) best = pool;
    return best;
  };
  const order = (pool: Pool, isRestart: boolean): Machine => {
    const machine: Machine = { pool, state: "provisioned", nextAt: now + provision, isRestart, replaces: [] };
    machines.push(machine);
    return machine;
  };
  const cameUp = (eviction: Eviction | null, units: number) => {
    if (!eviction) return;
    eviction.open -= units;
    if (eviction.open === 0) refills.push(now - eviction.at);
  };
  const isFirm = (what: Eviction | Firm | null): what is Firm => what !== null && "state" in what;
  const standsFor = (machine: Machine) => machine.replaces.filter(({ what }) => isFirm(what));
  const onItsWay = (firm: Firm) =>
    machines.reduce((sum, m) => sum + m.replaces.reduce((own, { what, units }) => own + (what === firm ? units : 0), 0), 0);
  let attemptNow = false;
  const addGap = (units: number, disk: Pool | null, eviction: Eviction | null) => {
    if (units > 0) gaps.push({ since: now, units, disk, eviction });
    attemptNow = true;
  };
  const evict = (machine: Machine) => {
    machines = machines.filter((one) => one !== machine);
    const open = machine.pool.unitsPerMachine - standsFor(machine).reduce((sum, { units }) => sum + units, 0);
    const eviction = { at: now, open };
    evicted.push(eviction);
    if (open > 0)
      addGap(open, mix.eviction === "keep disks" && open === machine.pool.unitsPerMachine ? machine.pool : null, eviction);
  };
  const ready = (): boolean => {
    let any = false;
    for (const machine of machines.filter((m) => m.state === "provisioned" && m.nextAt === now)) {
      any = true;
      machine.state = "set up";
      machine.nextAt = now + (machine.isRestart ? 0 : setup);
      if (isOver(machine.pool)) evict(machine);
    }
    for (const machine of machines.filter((m) => m.state === "set up" && m.nextAt === now)) {
      any = true;
      machine.state = "up";
      for (const { what, units } of machine.replaces) {
        if (!isFirm(what)) cameUp(what, units);
        else what.units -= units;
      }
      machine.replaces = [];
      firms = firms.filter(({ units }) => units > 0);
    }
    for (const firm of firms.filter((f) => f.state === "provisioned" && f.nextAt === now)) {
      any = true;
      firm.state = "set up";
      firm.nextAt = now + setup;
    }
    for (const firm of firms.filter((f) => f.state === "set up" && f.nextAt === now)) {
      any = true;
      firm.state = "up";
      cameUp(firm.eviction, firm.units);
    }
    return any;
  };
  const fall = (units: number) => {
    let excess = units;
    while (excess > 0 && gaps.length > 0) {
      const gap = gaps.at(-1) as Gap;
      const taken = gap.disk ? gap.units : Math.min(gap.units, excess);
      gap.units -= taken;
      excess -= taken;
      gaps = gaps.filter((one) => one.units > 0);
    }
    for (const firm of [...firms].reverse()) {
      const taken = Math.min(Math.max(0, excess), firm.units - onItsWay(firm));
      if (taken > 0) firm.disk = null;
      firm.units -= taken;
      excess -= taken;
    }
    firms = firms.filter((firm) => firm.units > 0);
    while (excess > 0) {
      const held = mix.pools.filter((pool) => heldOf(pool) > 0);
      const within = held.filter((pool) => pool.unitsPerMachine <= excess);
      const from = within.length > 0 ? within : held;
      let worst = from[0] as Pool;
      for (const pool of from.slice(1)) {
        const isWorse = isRanked
          ? rankOf(pool) >= rankOf(worst)
          : heldOf(pool) - shareOf(pool) >= heldOf(worst) - shareOf(worst) - 1e-9;
        if (isWorse) worst = pool;
      }
      const own = machines.filter((m) => m.pool === worst);
      const youngest = (state: Machine["state"]) => own.filter((m) => m.state === state).at(-1);
      const gone = youngest("provisioned") ?? youngest("set up") ?? (youngest("up") as Machine);
      machines = machines.filter((m) => m !== gone);
      for (const { what, units: own } of standsFor(gone)) (what as Firm).units -= own;
      firms = firms.filter((firm) => firm.units > 0);
      excess -= worst.unitsPerMachine;
    }
    if (excess < 0) addGap(-excess, null, null);
  };
  const attempt = () => {
    const every = mix.refillEveryMinutes;
    const isDue = attemptNow || (every !== null && gaps.some((gap) => (now - gap.since) % every === 0));
    attemptNow = false;
    if (!isDue) return;
    for (const gap of gaps.filter(({ disk }) => disk && canBeHad(disk))) {
      order(gap.disk as Pool, true).replaces.push({ what: gap.eviction, units: gap.units });
      gaps = gaps.filter((one) => one !== gap);
    }
    for (;;) {
      const open = gaps.filter(({ disk }) => !disk);
      const pool = choose(
        mix.pools.filter(canBeHad),
        open.reduce((sum, { units }) => sum + units, 0),
      );
      if (!pool) return;
      const machine = order(pool, false);
      let units = pool.unitsPerMachine;
      for (const gap of open) {
        const taken = Math.min(units, gap.units);
        if (taken === 0) continue;
        machine.replaces.push({ what: gap.eviction, units: taken });
        gap.units -= taken;
        units -= taken;
      }
      gaps = gaps.filter((gap) => gap.units > 0);
    }
  };
  const fallBack = () => {
    const after = mix.fallbackAfterMinutes;
    if (after === null) return;
    for (const gap of gaps.filter((one) => now >= one.since + after)) {
      firms.push({ ...gap, state: "provisioned", nextAt: now + provision });
      gaps = gaps.filter((one) => one !== gap);
    }
  };
  const wayBack = () => {
    const after = mix.returnAfterMinutes;
    if (after === null) return;
    const isBack = (pool: Pool) => canBeHad(pool) && (since.get(pool) as number) + after <= now;
    for (const firm of firms.filter(({ disk }) => disk && isBack(disk))) {
      order(firm.disk as Pool, true).replaces.push({ what: firm, units: firm.units });
      firm.disk = null;
    }
    for (;;) {
      const open = firms.filter((firm) => !firm.disk).map((firm) => ({ firm, units: firm.units - onItsWay(firm) }));
      const pool = choose(
        mix.pools.filter(isBack),
        open.reduce((sum, { units }) => sum + units, 0),
      );
      if (!pool) return;
      const machine = order(pool, false);
      let left = pool.unitsPerMachine;
      for (const { firm, units } of open) {
        const taken = Math.min(left, units);
        if (taken > 0) machine.replaces.push({ what: firm, units: taken });
        left -= taken;
      }
    }
  };

  // Everything up, as if no pool were dry.
  for (;;) {
    const room = wantedAt(0) - firmAt(0) - machines.reduce((sum, m) => sum + m.pool.unitsPerMachine, 0);
    const pool = choose(
      mix.pools.filter((one) => !isOver(one)),
      room,
    );
    if (!pool) {
      if (room > 0) addGap(room, null, null);
      break;
    }
    order(pool, false).state = "up";
  }
  for (; now < minutes; now++) {
    for (const pool of mix.pools) {
      const couldBe = now === 0 || since.get(pool) !== Infinity;
      if (now > 0) dry.set(pool, changesSpell(pool, dry.get(pool) as boolean, within));
      if (!canBeHad(pool)) since.set(pool, Infinity);
      else if (!couldBe) since.set(pool, now);
      if (now === 0) continue;
      const exposed = () => machines.filter((m) => m.pool === pool && m.state !== "provisioned");
      if (isOver(pool)) for (const machine of exposed()) evict(machine);
      if (within(numberOf(pool.reclaimRate)))
        for (const machine of exposed()) if (chance() < numberOf(pool.reclaimShare)) evict(machine);
      const factor = dry.get(pool) && pool.dryHazardFactor !== null ? numberOf(pool.dryHazardFactor) : 1;
      for (const machine of exposed()) if (within((rates.get(pool) as number) * factor)) evict(machine);
    }
    // What takes no time is ready in the same minute, so once more until nothing is.
    for (let isFirst = true; ready() || isFirst; isFirst = false) {
      const spot = (t: number) => wantedAt(t) - firmAt(t);
      const change = isFirst && now > 0 ? spot(now) - spot(now - 1) : 0;
      if (change > 0) addGap(change, null, null);
      if (change < 0) fall(-change);
      attempt();
      fallBack();
      wayBack();
    }
    firmSince = firmSince.slice(0, firmAt(now));
    while (firmSince.length < firmAt(now)) firmSince.push(now);
    const up = [...machines.filter((m) => m.state === "up").map((m) => m.pool.unitsPerMachine)];
    const capacity = [...up, ...firms.filter((f) => f.state === "up").map((f) => f.units), firmAfter(provision + setup)].reduce(
      (a, b) => a + b,
      0,
    );
    const lacks = Math.max(0, wantedAt(now) - capacity);
    const stands = firms.filter((f) => f.state !== "provisioned").reduce((sum, f) => sum + f.units, 0);
    const disks = [...gaps, ...firms].filter(({ disk }) => disk).length;
    const restarts = machines.filter((m) => m.isRestart && m.state === "provisioned").length;
    missing += lacks;
    short = lacks > 0 ? short + 1 : 0;
    longest = Math.max(longest, short);
    fallback += stands;
    if (capacity >= (mix.floor ?? 0)) floorMinutes++;
    for (const m of machines) if (m.state !== "provisioned") cost += priceOf(m.pool) / HOUR;
    cost += ((stands + firmAfter(provision)) * mix.firmPrice + (disks + restarts) * (mix.diskPrice ?? 0)) / HOUR;
  }
  return {
    cost,
    evictions: evicted.length,
    missingUnitHours: missing / HOUR,
    fallbackHours: fallback / HOUR,
    longestShortfallHours: longest / HOUR,
    refillMinutes: refills.length === 0 ? null : refills.reduce((a, b) => a + b, 0) / refills.length,
    atLeastFloor: floorMinutes / minutes,
  };
}

/** Nothing here is drawn once for all: every rate is a number, or there is none. */
function numberOf(rate: number | object | null): number {
  if (typeof rate === "object" && rate !== null) throw new Error("the reference takes numbers, not what is known of them");
  return rate ?? 0;
}

function startsDry({ availableHours, dryHours }: Pool, chance: () => number): boolean {
  if (availableHours === 0) return true;
  if (availableHours === null || !dryHours) return false;
  return chance() < numberOf(dryHours) / (numberOf(availableHours) + numberOf(dryHours));
}

function changesSpell({ availableHours, dryHours }: Pool, isDry: boolean, within: (rate: number) => boolean): boolean {
  if (availableHours === 0) return true;
  if (availableHours === null || !dryHours) return false;
  return within(1 / numberOf(isDry ? dryHours : availableHours)) ? !isDry : isDry;
}
