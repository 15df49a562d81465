import { ACCOUNTS } from "../../demo/accounts";
import { ORPHAN_ADDRESSES, ORPHAN_DISKS } from "../../demo/leftovers";
import { BATCHES, type Batch, OFFICES } from "../../demo/resources";
import { HISTORY_DAYS, SEED, WORLD_START } from "../../demo/world";
import { chance } from "./chance";
import { pastOf } from "./evictions";
import { lifeOf } from "./habits";
import { openOffice } from "./office";
import { providerOf } from "./provider";
import { DAY, type Event, type LooseThing, present, type Unit, type World } from "./types";

/** The demo world at its first instant, with 28 days behind it. */
export function birth(): World {
  const units = BATCHES.flatMap((batch) => unitsOf(batch));
  const taken = new Map(units.map((unit) => [unit.id, takenBefore(unit)]));
  const world: World = {
    seed: SEED,
    bornAt: WORLD_START,
    doneUntil: WORLD_START,
    clock: { now: WORLD_START, rate: 1 },
    units,
    loose: looseThings(),
    events: [],
    answers: {},
    outages: [],
  };
  world.events = pastEvents(units, taken);
  for (const { zone, prefix, people } of OFFICES)
    openOffice(world, { zone, people, seats: units.filter(({ name }) => name.startsWith(`${prefix}-`)) });
  return world;
}

function accountOf(name: string) {
  const account = ACCOUNTS.find((candidate) => candidate.name === name);
  if (!account) throw new Error(`no account ${name}`);
  return account;
}

function unitsOf(batch: Batch): Unit[] {
  const provider = providerOf(accountOf(batch.account).provider);
  const region = provider.regions.find(({ name }) => name === batch.region);
  if (!region) throw new Error(`no region ${batch.region}`);
  return Array.from({ length: batch.count }, (_, i) => {
    const number = i + 1;
    const name = batch.count === 1 ? batch.prefix : `${batch.prefix}-${String(number).padStart(2, "0")}`;
    const odd = batch.odd?.[number];
    const size = provider.sizes.find((candidate) => candidate.name === pick(batch.size, i));
    if (!size) throw new Error(`no size for ${name}`);
    const owner: Record<string, string> = batch.owners ? { owner: pick(batch.owners, i) } : {};
    const zones = batch.zones ?? region.zones;
    return {
      id: `${provider.name}-${name}`,
      name,
      kind: batch.kind,
      account: batch.account,
      provider: provider.name,
      region: batch.region,
      zone: pick(zones, i),
      size: size.name,
      os: batch.os,
      purchase: batch.purchase ?? "firm",
      tags: { ...batch.tags, ...owner, ...odd?.tags },
      container: batch.container ? { name: batch.container.name, tags: { ...batch.container.tags } } : null,
      habit: batch.habit,
      cores: size.cores,
      memoryGib: size.memoryGib,
      diskGib: batch.diskGib,
      diskClass: batch.diskClass,
      addresses: batch.addresses ?? 0,
      levelMax: batch.levelMax ?? 1,
      keepsDisks: batch.keepsDisks ?? false,
      target: batch.level ?? 1,
      pending: null,
      life: lifeOf({
        seed: SEED,
        name,
        habit: batch.habit,
        zone: region.peopleZone,
        level: batch.level ?? 1,
        from: WORLD_START - HISTORY_DAYS * DAY,
        to: WORLD_START,
        odd,
      }),
    } satisfies Unit;
  });
}

function pick<T>(values: T | readonly T[], i: number): T {
  return Array.isArray(values) ? (values[i % values.length] as T) : (values as T);
}

function looseThings(): LooseThing[] {
  const since = (i: number) => WORLD_START - Math.round((12 + chance(SEED, "loose", i) * 200) * DAY);
  const disks = ORPHAN_DISKS.map((disk, i): LooseThing => {
    const provider = accountOf(disk.account).provider;
    const name = `disk-${String(i + 1).padStart(3, "0")}`;
    return {
      id: `${provider}-${name}`,
      name,
      kind: "disk",
      account: disk.account,
      provider,
      region: disk.region,
      gib: disk.gib,
      class: disk.class,
      tags: { ...disk.tags },
      since: since(i),
    };
  });
  const addresses = ORPHAN_ADDRESSES.map((address, i): LooseThing => {
    const provider = accountOf(address.account).provider;
    const name = `address-${String(i + 1).padStart(3, "0")}`;
    return {
      id: `${provider}-${name}`,
      name,
      kind: "address",
      account: address.account,
      provider,
      region: address.region,
      gib: 0,
      class: "",
      tags: {},
      since: since(i + 50),
    };
  });
  return [...disks, ...addresses];
}

/** What is interruptible was taken back before the demo began too; when that was. */
function takenBefore(unit: Unit): ReadonlySet<number> {
  if (unit.purchase !== "spot") return new Set();
  const { life, evictedAt } = pastOf(SEED, unit, { from: WORLD_START - HISTORY_DAYS * DAY, to: WORLD_START, life: unit.life });
  unit.life = life;
  return evictedAt;
}

/** The feed's first part: every change of the 28 days, in order of time. */
function pastEvents(units: readonly Unit[], taken: ReadonlyMap<string, ReadonlySet<number>>): Event[] {
  const events: Event[] = [];
  for (const unit of units) {
    unit.life.forEach(({ at, state, level }, i) => {
      events.push({
        n: 0,
        at,
        account: unit.account,
        resource: unit.id,
        type: i === 0 ? "found" : taken.get(unit.id)?.has(at) ? "evicted" : state,
        state,
        level,
        note: "",
      });
    });
  }
  events.sort((a, b) => a.at - b.at || a.resource.localeCompare(b.resource));
  events.forEach((event, i) => {
    event.n = i + 1;
  });
  for (const unit of units) if (unit.kind !== "machine") unit.target = present(unit).level;
  return events;
}
