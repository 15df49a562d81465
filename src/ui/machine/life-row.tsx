import type { ReactNode } from "react";

/** How wide all rows of a life are drawn; they are stretched to the place they have. */
export const WIDTH = 1000;

export type LifeRowProps = Readonly<{ title: string; height: number; isLined?: boolean; children: ReactNode }>;

/** One row of a machine's life, as high as it says and as wide as there is place; `isLined`: with a line above it. */
export function LifeRow({ title, height, isLined = false, children }: LifeRowProps) {
  return (
    <svg
      aria-hidden
      viewBox={`0 0 ${WIDTH} ${height}`}
      preserveAspectRatio="none"
      className={`block w-full ${isLined ? "border-lines border-t" : ""}`}
      style={{ height }}
    >
      <title>{title}</title>
      {children}
    </svg>
  );
}
