import {
  gapsToKeep,
  type Keeping,
  type KeepStep,
  type Mix,
  type MixGap,
  type MixMachine,
  nextStep,
  orderHazard,
  poolPlace,
} from "@/core/mix";
import { birth } from "../../../standin/world/birth";
import { isDry, isShort } from "../../../standin/world/capacity";
import { advance, nextHappening } from "../../../standin/world/engine";
import { linesOfDay } from "../../../standin/world/meter";
import { spotRate } from "../../../standin/world/prices";
import { Refusal } from "../../../standin/world/refusal";
import { DAY, HOUR, present, type Unit, type World } from "../../../standin/world/types";
import { carryOut } from "../../../standin/world/verbs";

/** What a stretch of time came to: by the stand-in's own events, meter and lives. */
export type Measured = {
  evictions: number;
  missingUnitHours: number;
  cost: number;
  /** By pool. */
  byPool: Map<string, OfPool>;
  /** Minutes from when something was missing to when the machine for it ran, of those that were to be had at once. */
  provisionMinutes: number[];
};
/** Machine-hours, hours with two machines or more, hours by whether more was to be had, and evictions: when, how many of how many. */
export type OfPool = {
  machineHours: number;
  sharedHours: number;
  dryHours: number;
  dryEvictions: number;
  gone: { at: number; count: number; held: number }[];
};

type Own = { part: MixMachine["part"]; pool: string | null; units: number };

/**
 * A group of the stand-in that is kept at a mix by the product's own rule, minute by minute, in one process: the world decides
 * what happens, the rule what is asked for, and this notes the answers as a round does.
 */
export class KeptGroup {
  readonly world: World;
  readonly group: Unit;
  private readonly own = new Map<string, Own>();
  private gaps: MixGap[] = [];
  private gapIds = 0;
  private refused = new Map<string, number>();
  private firmRefusedAt: number | null = null;
  private before: number;
  private known = new Set<string>();
  private provisioned: number[] = [];

  /** What it is kept at; given before the first look. */
  mix!: Mix;

  constructor(
    seed: number,
    private readonly wantedAt: (t: number) => number,
    private readonly firmSize: Readonly<{ size: string; zones: readonly string[] }>,
  ) {
    this.world = birth();
    this.world.seed = seed;
    delete this.world.office;
    this.group = this.world.units.find(({ name }) => name === "tide-pool-north") as Unit;
    this.world.units = [this.group];
    this.group.life = [{ at: this.world.bornAt, state: "stopped", level: 0 }];
    this.group.purchase = "firm";
    this.before = this.world.doneUntil - 60;
  }

  private members(): Unit[] {
    return this.world.units.filter((unit) => unit.kind === "member" && present(unit).state !== "gone");
  }

  private machineOf(unit: Unit): MixMachine {
    const own = this.own.get(unit.id) as Own;
    const { state, at } = present(unit);
    const isUp = state === "running" && at + (this.mix.setupMinutes ?? 0) * 60 <= this.world.doneUntil;
    return {
      id: unit.id,
      ...own,
      state: state === "stopped" ? "down" : isUp ? "up" : "coming",
      orderedAt: unit.life[0]?.at ?? 0,
      isBusy: false,
      isIll: unit.unhealthySince !== undefined && this.world.doneUntil - unit.unhealthySince >= 600,
    };
  }

  private keeping(): Keeping {
    const { mix } = this;
    return {
      now: this.world.doneUntil,
      before: this.before,
      wanted: this.wantedAt(this.world.doneUntil),
      firm: mix.firm,
      order: mix.order,
      refillEveryMinutes: mix.refillEveryMinutes,
      fallbackAfterMinutes: mix.fallbackAfterMinutes,
      returnAfterMinutes: mix.returnAfterMinutes,
      pools: mix.pools.map((pool) => ({
        name: pool.name,
        units: pool.unitsPerMachine,
        price: this.priceNow(pool),
        cap: null,
        hazard: orderHazard(pool),
        refusedAt: this.refused.get(pool.name) ?? null,
      })),
      machines: this.members().map((unit) => this.machineOf(unit)),
      gaps: this.gaps,
      firmRefusedAt: this.firmRefusedAt,
    };
  }

  private priceNow({ name }: Mix["pools"][number]): number {
    return Number(spotRate(this.world.seed, { ...this.group, ...poolPlace(name) }, Math.floor(this.world.doneUntil / DAY) * DAY));
  }

  /** One look: what went since the last is a gap, and what is to be done is asked for until nothing is. */
  look(): void {
    const { world } = this;
    const now = world.doneUntil;
    const there = new Set(this.members().map(({ id }) => id));
    for (const id of this.known) {
      const own = this.own.get(id);
      const unit = world.units.find((one) => one.id === id);
      if (there.has(id) || own?.part === "firm" || !unit || !own) continue;
      this.gaps.push({ id: ++this.gapIds, units: own.units, since: present(unit).at, disk: null });
    }
    for (let step = this.nextStep(); step; step = this.nextStep()) this.take(step);
    this.known = new Set(this.members().map(({ id }) => id));
    this.before = now;
    world.units = world.units.filter(
      (unit) => unit.kind !== "member" || present(unit).state !== "gone" || present(unit).at > now - 2 * DAY,
    );
  }

  /** With the gaps as they ought to be: what one step leaves missing, the next may fill. */
  private nextStep(): KeepStep | null {
    const { open, shrink } = gapsToKeep(this.keeping());
    for (const { id, units } of shrink) this.shrink(id, units);
    if (open > 0) this.gaps.push({ id: ++this.gapIds, units: open, since: this.world.doneUntil, disk: null });
    return nextStep(this.keeping());
  }

  private shrink(id: number, units: number): void {
    this.gaps = this.gaps.flatMap((gap) => (gap.id !== id ? [gap] : units > 0 ? [{ ...gap, units }] : []));
  }

  private take(step: KeepStep): void {
    const { world } = this;
    const now = world.doneUntil;
    const ask = (unit: Unit, verb: "order" | "remove" | "start", member: Parameters<typeof carryOut>[2]["member"] = null) =>
      carryOut(world, unit, { verb, level: null, now, member });
    if (step.kind !== "order") {
      const unit = world.units.find(({ id }) => id === step.id) as Unit;
      ask(unit, step.kind === "remove" ? "remove" : "start");
      if (step.kind === "remove") this.known.delete(step.id);
      return;
    }
    const [size, zone] = step.pool === null ? [this.firmSize.size, this.nextZone()] : (step.pool.split(" ") as [string, string]);
    try {
      const purchase = step.part === "spot" ? "spot" : "firm";
      const made = ask(this.group, "order", { size, zone, purchase, keepsDisks: this.mix.eviction === "keep disks" }) as Unit;
      this.own.set(made.id, { part: step.part, pool: step.pool, units: step.units });
      const oldest = this.gaps.find(({ id }) => id === step.gaps[0]);
      if (oldest && oldest.since > this.before && made.pending) this.provisioned.push((made.pending.at - oldest.since) / 60);
      let left = step.units;
      for (const id of step.gaps) {
        const gap = this.gaps.find((one) => one.id === id);
        if (!gap || left <= 0) continue;
        this.shrink(id, gap.units - Math.min(left, gap.units));
        left -= gap.units;
      }
    } catch (error) {
      if (!(error instanceof Refusal) || error.code !== "no_capacity") throw error;
      if (step.pool === null) this.firmRefusedAt = now;
      else this.refused.set(step.pool, now);
    }
  }

  private nextZone(): string {
    const { zones } = this.firmSize;
    return zones[(this.world.membersMade ?? 0) % zones.length] as string;
  }

  /** Runs to an instant and measures on the way. Nothing is looked at while nothing happens. */
  run(to: number): Measured {
    const { world } = this;
    const measured: Measured = { evictions: 0, missingUnitHours: 0, cost: 0, byPool: new Map(), provisionMinutes: [] };
    this.provisioned = measured.provisionMinutes;
    let seen = world.events.length;
    const from = world.doneUntil;
    let day = Math.floor(from / DAY) * DAY;
    // What the first day had cost before is no part of it.
    measured.cost -= this.costOfDay(day, from);
    while (world.doneUntil < to) {
      this.look();
      const now = world.doneUntil;
      const next = Math.min(to, this.nextLook(now), day + DAY);
      const pools = new Map<string, number>();
      for (const unit of this.members()) {
        const pool = this.own.get(unit.id)?.pool;
        if (pool && present(unit).state !== "stopped") pools.set(pool, (pools.get(pool) ?? 0) + 1);
      }
      this.measureUntil(next, measured);
      const hours = (world.doneUntil - now) / HOUR;
      for (const [pool, held] of pools) {
        const own = this.ofPool(measured, pool);
        own.machineHours += held * hours;
        if (held > 1) own.sharedHours += hours;
        if (isDryPool(world.seed, pool, now)) own.dryHours += held * hours;
      }
      this.noteGone(measured, { first: seen, pools });
      seen = world.events.length;
      if (world.doneUntil >= day + DAY || world.doneUntil >= to) {
        measured.cost += this.costOfDay(day, world.doneUntil);
        day = Math.floor(world.doneUntil / DAY) * DAY;
      }
    }
    return measured;
  }

  private noteGone(measured: Measured, { first, pools }: { first: number; pools: ReadonlyMap<string, number> }): void {
    for (const event of this.world.events.slice(first)) {
      if (event.type !== "evicted") continue;
      measured.evictions++;
      const pool = this.own.get(event.resource)?.pool;
      if (!pool) continue;
      const own = this.ofPool(measured, pool);
      const last = own.gone.at(-1);
      if (last && last.at === event.at / HOUR) last.count++;
      else own.gone.push({ at: event.at / HOUR, count: 1, held: pools.get(pool) ?? 1 });
      if (isDryPool(this.world.seed, pool, event.at)) own.dryEvictions++;
    }
  }

  private ofPool({ byPool }: Measured, pool: string): OfPool {
    const own = byPool.get(pool) ?? { machineHours: 0, sharedHours: 0, dryHours: 0, dryEvictions: 0, gone: [] };
    byPool.set(pool, own);
    return own;
  }

  /** The next whole minute at which there may be something to do. */
  private nextLook(now: number): number {
    const minute = Math.floor(now / 60) * 60 + 60;
    const isQuiet = this.gaps.length === 0 && this.members().every((unit) => this.own.get(unit.id)?.part !== "stand-in");
    if (!isQuiet || this.members().some((unit) => this.machineOf(unit).isIll)) return minute;
    const hour = Math.floor(now / HOUR) * HOUR + HOUR;
    const next = Math.min(nextHappening(this.world, hour) ?? hour, hour);
    const ill = this.members().flatMap(({ unhealthySince }) => (unhealthySince === undefined ? [] : [unhealthySince + 600]));
    return Math.max(minute, Math.ceil(Math.min(next, ...ill.filter((t) => t > now)) / 60) * 60);
  }

  /** Advances, and adds what is missing: those that are up, by the second. */
  private measureUntil(to: number, measured: Measured): void {
    const { world } = this;
    while (world.doneUntil < to) {
      const now = world.doneUntil;
      const setupS = (this.mix.setupMinutes ?? 0) * 60;
      const ups = this.members().flatMap((unit) => {
        const { state, at } = present(unit);
        return state === "running" && at + setupS > now ? [at + setupS] : [];
      });
      const hour = Math.floor(now / HOUR) * HOUR + HOUR;
      const next = Math.min(to, hour, ...ups, nextHappening(world, Math.min(to, hour)) ?? to);
      const up = this.members()
        .map((unit) => this.machineOf(unit))
        .reduce((sum, { state, units }) => sum + (state === "up" ? units : 0), 0);
      measured.missingUnitHours += (Math.max(0, this.wantedAt(now) - up) * (next - now)) / HOUR;
      advance(world, next);
    }
  }

  /** Compute and licence of a UTC day up to an instant, by the stand-in's meter. */
  private costOfDay(day: number, to: number): number {
    return this.world.units
      .filter(({ kind }) => kind === "member")
      .flatMap((unit) => linesOfDay(this.world.seed, unit, { day, until: Math.min(day + DAY, to) }))
      .filter(({ item }) => item === "compute" || item === "licence")
      .reduce((sum, { cost }) => sum + Number(cost), 0);
  }
}

/** How long spells with and without machines of a pool were in the mean, in hours, asked every ten minutes over a span. */
export function spellsOf(
  seed: number,
  pool: string,
  { from, to }: { from: number; to: number },
): { availableHours: number; dryHours: number; count: number } {
  let [dry, free, turns] = [0, 0, 0];
  let was = false;
  for (let t = from; t < to; t += 600) {
    const is = isDryPool(seed, pool, t);
    if (is) dry++;
    else free++;
    if (is && !was) turns++;
    was = is;
  }
  const count = Math.max(1, turns);
  return { availableHours: free / 6 / count, dryHours: dry / 6 / count, count };
}

/** True while an order of a pool would be refused. */
function isDryPool(seed: number, pool: string, t: number): boolean {
  const [size = "", zone = ""] = pool.split(" ");
  return isDry({ seed }, { size, zone }, t) || isShort({ seed }, { size, zone }, t);
}
