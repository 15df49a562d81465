/**
 * Chance without a stream: every draw is a hash of the seed and of what it is for, so that the same
 * thing happens whichever way the clock got there.
 */
export function chance(seed: number, ...about: readonly (string | number)[]): number {
  let hash = (0x811c9dc5 ^ seed) >>> 0;
  const text = about.join("|");
  for (let i = 0; i < text.length; i++) {
    hash ^= text.charCodeAt(i);
    hash = Math.imul(hash, 0x01000193);
  }
  // Final mixing: neighbours in the text must not be neighbours in the result.
  hash ^= hash >>> 16;
  hash = Math.imul(hash, 0x85ebca6b);
  hash ^= hash >>> 13;
  hash = Math.imul(hash, 0xc2b2ae35);
  hash ^= hash >>> 16;
  return (hash >>> 0) / 4294967296;
}

/** An exponentially distributed time with a mean, from a draw in [0, 1). */
export function exponential(draw: number, mean: number): number {
  return -Math.log(1 - draw) * mean;
}
