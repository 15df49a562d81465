import { spotRate } from "./prices";
import { providerOf } from "./provider";
import { billedAs, DAY, isOn, type LooseThing, type Unit } from "./types";

/** One line of the bill: an item of one resource on one UTC day. Decimals are text. */
export type UsageLine = {
  id: string;
  account: string;
  resource: string;
  region: string;
  item: string;
  from: number;
  to: number;
  quantity: string;
  unit: string;
  rate: string;
  cost: string;
};

type Piece = { from: number; to: number; state: Unit["life"][number]["state"]; level: number };

/** The lines of one unit for the UTC day that begins at `day`; `until` is how far the meter has read. */
export function linesOfDay(seed: number, unit: Unit, { day, until }: { day: number; until: number }): UsageLine[] {
  const end = Math.min(day + DAY, until);
  if (end <= day) return [];
  const provider = providerOf(unit.provider);
  const size = provider.sizes.find(({ name }) => name === unit.size);
  if (!size) throw new Error(`no size ${unit.size}`);
  const pieces = piecesOf(unit, until);
  const lines: UsageLine[] = [];
  const add = (item: string, more: { from: number; to: number; amount: number; unit: string; rate: string; divisor: number }) => {
    if (more.amount <= 0) return;
    lines.push({
      id: `${unit.id} ${item} ${more.from}`,
      account: unit.account,
      resource: unit.id,
      region: unit.region,
      item,
      from: more.from,
      to: more.to,
      quantity: six(BigInt(more.amount) * 1_000_000n, BigInt(more.divisor)),
      unit: more.unit,
      rate: more.rate,
      cost: six(BigInt(more.amount) * nano(more.rate), 1000n * BigInt(more.divisor)),
    });
  };
  for (const run of runsOf(pieces, provider.billedWhenHalted)) {
    const from = Math.max(run.from, day);
    const to = Math.min(run.to, end);
    if (from >= to) continue;
    const seconds = billedIn(run, { from, to, isOpen: run.to >= until && to === end, unit });
    const rate =
      unit.kind === "service" ? provider.serviceCore : unit.purchase === "spot" ? spotRate(seed, unit, day) : size.rate;
    add("compute", { from, to, amount: seconds * run.level, unit: "hours", rate, divisor: 3600 });
    const cores =
      unit.kind === "service"
        ? Math.max(run.level, provider.serviceLicence.coresMin)
        : unit.os === "windows"
          ? size.cores * run.level
          : 0;
    const licence = unit.kind === "service" ? provider.serviceLicence.rate : provider.windowsLicence;
    add("licence", { from, to, amount: seconds * cores, unit: "core-hours", rate: licence, divisor: 3600 });
  }
  const whole = Math.max(day, pieces[0]?.from ?? end);
  const last = pieces[pieces.length - 1];
  // What is gone has taken its disks with it.
  const kept = last?.state === "gone" ? Math.min(end, last.from) : end;
  const diskRate = unit.diskClass === "fast" ? provider.disk.fast : provider.disk.plain;
  add("disk", {
    from: whole,
    to: kept,
    amount: Math.max(0, kept - whole) * unit.diskGib,
    unit: "GiB-months",
    rate: diskRate,
    divisor: 730 * 3600,
  });
  for (const piece of pieces) {
    const from = Math.max(piece.from, day);
    const to = Math.min(piece.to, end);
    if (from >= to) continue;
    if (piece.state === "gone") continue;
    const rate = isOn(piece.state) ? provider.address.running : provider.address.stopped;
    if (Number(rate) > 0) add("address", { from, to, amount: (to - from) * unit.addresses, unit: "hours", rate, divisor: 3600 });
    if (piece.state === "hibernated")
      add("image", {
        from,
        to,
        amount: (to - from) * unit.memoryGib,
        unit: "GiB-months",
        rate: provider.image,
        divisor: 730 * 3600,
      });
  }
  return lines;
}

/** A disk or an address that belongs to nothing. */
export function linesOfLoose(thing: LooseThing, { day, until }: { day: number; until: number }): UsageLine[] {
  const from = Math.max(day, thing.since);
  const to = Math.min(day + DAY, until);
  if (from >= to) return [];
  const provider = providerOf(thing.provider);
  const isDisk = thing.kind === "disk";
  const rate = isDisk ? (thing.class === "fast" ? provider.disk.fast : provider.disk.plain) : provider.address.unattached;
  const amount = BigInt((to - from) * (isDisk ? thing.gib : 1));
  const divisor = isDisk ? 730n * 3600n : 3600n;
  return [
    {
      id: `${thing.id} ${from}`,
      account: thing.account,
      resource: thing.id,
      region: thing.region,
      item: thing.kind,
      from,
      to,
      quantity: six(amount * 1_000_000n, divisor),
      unit: isDisk ? "GiB-months" : "hours",
      rate,
      cost: six(amount * nano(rate), 1000n * divisor),
    },
  ];
}

function piecesOf(unit: Unit, until: number): Piece[] {
  return unit.life.map(({ at, state, level }, i) => ({ from: at, to: unit.life[i + 1]?.at ?? until, state, level }));
}

type Billed = { from: number; to: number; level: number };

/** Joins the pieces that are one run for the bill. A machine that is shut down from inside may go on running for it. */
function runsOf(pieces: readonly Piece[], billedWhenHalted: boolean): Billed[] {
  const runs: Billed[] = [];
  for (const { from, to, state, level } of pieces) {
    const units = state === "halted" ? (billedWhenHalted ? 1 : 0) : isOn(state) ? level : 0;
    const last = runs[runs.length - 1];
    if (units === 0 || from >= to) continue;
    if (last && last.to === from && last.level === units) last.to = to;
    else runs.push({ from, to, level: units });
  }
  return runs;
}

/** Seconds of a run that fall on this day's bill. Rounding up comes on the day the run ends. */
function billedIn(run: Billed, { from, to, isOpen, unit }: { from: number; to: number; isOpen: boolean; unit: Unit }): number {
  if (isOpen || to < run.to) return to - from;
  const provider = providerOf(unit.provider);
  const kind = billedAs(unit.kind);
  const granule = provider.granularityS[kind];
  const length = run.to - run.from;
  const rounded = length % granule === 0 ? length : length + granule - (length % granule);
  const total = Math.max(rounded, provider.minimumS[kind]);
  return total - (from - run.from);
}

function nano(rate: string): bigint {
  const [whole, fraction = ""] = rate.split(".");
  return BigInt(`${whole}${fraction.padEnd(9, "0")}`);
}

/** numerator / denominator millionths as a decimal with six places, half to even. */
function six(numerator: bigint, denominator: bigint): string {
  let value = numerator / denominator;
  const rest = (numerator - value * denominator) * 2n;
  if (rest > denominator || (rest === denominator && value % 2n !== 0n)) value += 1n;
  const digits = value.toString().padStart(7, "0");
  return `${digits.slice(0, -6)}.${digits.slice(-6)}`;
}
