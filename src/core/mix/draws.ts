/**
 * Chance by key and number: the draw of a number under a key is always the same, in whatever order draws are asked
 * for. So what happens to a machine does not depend on what happens to others, on which worker a trial runs, or on
 * what else is compared with it. The mixing is a well-known 32-bit finaliser ("lowbias32"), twice, under two halves
 * of a key.
 */
export type Key = Readonly<{ a: number; b: number }>;

function mixed(value: number): number {
  let x = value | 0;
  x = Math.imul(x ^ (x >>> 16), 0x21f0aaad);
  x = Math.imul(x ^ (x >>> 15), 0x735a2d97);
  return x ^ (x >>> 15);
}

const GOLDEN = 0x9e3779b9;

/** The first key of a seed: a whole number of up to 53 bits. */
export function keyOf(seed: number): Key {
  const [low, high] = [seed % 4_294_967_296, Math.floor(seed / 4_294_967_296)];
  return under({ a: 0x243f6a88, b: 0x13198a2e }, mixed(low) ^ mixed(high + GOLDEN));
}

/** A key of its own under another: one per trial, per pool, per purpose. */
export function under({ a, b }: Key, word: number): Key {
  const first = mixed(mixed(a + Math.imul(word, GOLDEN)) ^ b);
  return { a: first, b: mixed(mixed(b ^ word) + first + GOLDEN) };
}

/** A name as a word for a key. */
export function wordOf(name: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < name.length; i++) hash = Math.imul(hash ^ name.charCodeAt(i), 0x01000193);
  return mixed(hash);
}

/** A number between 0 and 1, neither included; each number under the key has its own. */
export function draw(a: number, b: number, number: number): number {
  return ((mixed(mixed(number + a) ^ b) >>> 0) + 0.5) / 4_294_967_296;
}

/** Exponential with mean 1. */
export function drawExponential(a: number, b: number, number: number): number {
  return -Math.log(draw(a, b, number));
}

/** Normal with mean 0 and deviation 1, by Box and Muller; each number under the key takes two draws of its own. */
export function drawNormal({ a, b }: Key, number: number): number {
  return Math.sqrt(-2 * Math.log(draw(a, b, 2 * number))) * Math.cos(2 * Math.PI * draw(a, b, 2 * number + 1));
}

/** Gamma of a shape above 0, with rate 1, by the method of Marsaglia and Tsang (2000). */
export function drawGamma({ a, b }: Key, shape: number): number {
  let number = 0;
  const next = () => draw(a, b, number++);
  // Below shape 1: of a shape one higher, times a power of a uniform.
  const boost = shape < 1 ? next() ** (1 / shape) : 1;
  const d = (shape < 1 ? shape + 1 : shape) - 1 / 3;
  const c = 1 / Math.sqrt(9 * d);
  for (;;) {
    const normal = Math.sqrt(-2 * Math.log(next())) * Math.cos(2 * Math.PI * next());
    const v = (1 + c * normal) ** 3;
    if (v > 0 && Math.log(next()) < normal * normal * 0.5 + d - d * v + d * Math.log(v)) return d * v * boost;
  }
}
