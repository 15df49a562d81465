/** A point of a picture with those that would lie under it. */
export type Gathered<T> = Readonly<{ point: T; x: number; y: number; others: readonly T[] }>;

export type Placed<T> = Readonly<{
  x: (point: T) => number;
  y: (point: T) => number;
  /** Nearer than this, in both directions, one would lie over the other. */
  apart: number;
}>;

/** Points in the order of who is to be seen: each that would lie over one before it is gathered under that. */
export function gathered<T>(points: readonly T[], { x, y, apart }: Placed<T>): readonly Gathered<T>[] {
  const shown: { point: T; x: number; y: number; others: T[] }[] = [];
  for (const point of points) {
    const [px, py] = [x(point), y(point)];
    const above = shown.find((one) => Math.abs(one.x - px) < apart && Math.abs(one.y - py) < apart);
    if (above) above.others.push(point);
    else shown.push({ point, x: px, y: py, others: [] });
  }
  return shown;
}
