/** Chance that repeats by its seed: a failing run is run again as it was. */
export type Chance = Readonly<{
  /** A whole number from one to another, both included. */
  int: (from: number, to: number) => number;
  of: <T>(list: readonly T[]) => T;
}>;

/** Mulberry32, a small well-known generator. */
export function chanceOf(seed: number): Chance {
  let state = seed >>> 0;
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
  const int = (from: number, to: number) => from + Math.floor(next() * (to - from + 1));
  return { int, of: (list) => list[int(0, list.length - 1)] as (typeof list)[number] };
}
