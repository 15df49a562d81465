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
  type SpotPast,
} from "@/core/mix";
import { birth } from "../../../standin/world/birth";
import { advance, nextHappening } from "../../../standin/world/engine";
import { linesOfDay } from "../../../standin/world/meter";
import { spotRate } from "../../../standin/world/prices";
import { Refusal } from "../../../standin/world/refusal";
import { DAY, HOUR, present, type Unit, type World } from "../../../standin/world/types";
import { carryOut } from "../../../standin/world/verbs";

/** What a stretch of time came to: by the stand-in's own events, meter and lives. */
export type Measured = { evictions: number; missingUnitHours: number; cost: number };
type Noted = { -readonly [Key in keyof SpotPast]: SpotPast[Key][number][] };

/** Rounds begin when they begin. */
const LOOKS_AT = 30;

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
  /** What whoever keeps it sees of its spot machines, from the beginning. */
  private readonly noted: Noted = { turns: [], gone: [], answers: [] };
  /** Seconds that its machines took to run. */
  readonly started: number[] = [];
  private readonly counted = new Map<string, number>();

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
      if (step.part === "spot") this.noted.answers.push({ size, zone, at: now, isRefused: false });
      this.started.push((made.pending?.at ?? now) - now);
      let left = step.units;
      for (const id of step.gaps) {
        const gap = this.gaps.find((one) => one.id === id);
        if (!gap || left <= 0) continue;
        this.shrink(id, gap.units - Math.min(left, gap.units));
        left -= gap.units;
      }
    } catch (error) {
      if (!(error instanceof Refusal) || error.code !== "no_capacity") throw error;
      if (step.part === "spot") this.noted.answers.push({ size, zone, at: now, isRefused: true });
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
    const measured: Measured = { evictions: 0, missingUnitHours: 0, cost: 0 };
    let seen = world.events.length;
    const from = world.doneUntil;
    let day = Math.floor(from / DAY) * DAY;
    // What the first day had cost before is no part of it.
    measured.cost -= this.costOfDay(day, from);
    while (world.doneUntil < to) {
      this.look();
      const now = world.doneUntil;
      const next = Math.min(to, this.nextLook(now), day + DAY);
      this.noteHeld(now);
      this.measureUntil(next, measured);
      this.noteGone(measured, seen);
      this.noteHeld(world.doneUntil);
      seen = world.events.length;
      if (world.doneUntil >= day + DAY || world.doneUntil >= to) {
        measured.cost += this.costOfDay(day, world.doneUntil);
        day = Math.floor(world.doneUntil / DAY) * DAY;
      }
    }
    return measured;
  }

  /** How many of each pool run, where that is another number than before. */
  private noteHeld(at: number): void {
    const held = new Map<string, number>([...this.counted.keys()].map((pool) => [pool, 0]));
    for (const unit of this.members()) {
      const pool = this.own.get(unit.id)?.pool;
      if (pool && present(unit).state !== "stopped") held.set(pool, (held.get(pool) ?? 0) + 1);
    }
    for (const [pool, count] of held) {
      const by = count - (this.counted.get(pool) ?? 0);
      if (by !== 0) this.noted.turns.push({ ...placeOf(pool), at, by });
      this.counted.set(pool, count);
    }
  }

  private noteGone(measured: Measured, first: number): void {
    for (const event of this.world.events.slice(first)) {
      if (event.type !== "evicted") continue;
      measured.evictions++;
      const pool = this.own.get(event.resource)?.pool;
      if (pool) this.noted.gone.push({ ...placeOf(pool), at: event.at });
    }
  }

  /** What was seen from an instant to now. */
  seenSince(from: number): SpotPast {
    const { turns, gone, answers } = this.noted;
    const later = <T extends { at: number }>(list: readonly T[]) => list.filter(({ at }) => at >= from);
    const before = turns.filter(({ at }) => at < from).map((one) => ({ ...one, at: from }));
    // Whatever runs still has run to now.
    const now = this.world.doneUntil;
    const open = [...this.counted].map(([pool, count]) => ({ ...placeOf(pool), at: now, by: -count }));
    return { turns: [...before, ...later(turns), ...open], gone: later(gone), answers: later(answers) };
  }

  /** When there may be something to do next: once a minute, half a minute after a whole one. */
  private nextLook(now: number): number {
    const lookAfter = (t: number) => Math.ceil((t - LOOKS_AT) / 60) * 60 + LOOKS_AT;
    const minute = lookAfter(now + 1);
    const isQuiet = this.gaps.length === 0 && this.members().every((unit) => this.own.get(unit.id)?.part !== "stand-in");
    if (!isQuiet || this.members().some((unit) => this.machineOf(unit).isIll)) return minute;
    const hour = Math.floor(now / HOUR) * HOUR + HOUR;
    const next = Math.min(nextHappening(this.world, hour) ?? hour, hour);
    const ill = this.members().flatMap(({ unhealthySince }) => (unhealthySince === undefined ? [] : [unhealthySince + 600]));
    return Math.max(minute, lookAfter(Math.min(next, ...ill.filter((t) => t > now))));
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

function placeOf(pool: string): { size: string; zone: string } {
  const [size = "", zone = ""] = pool.split(" ");
  return { size, zone };
}
