import { expect, test } from "vitest";
import { mapped } from "@/core/pieces";
import { inPieces } from "./in-pieces";

test("between two pieces others have their turn", async () => {
  let turns = 0;
  const other = setInterval(() => turns++, 10);
  const busy = (ms: number) => {
    for (const end = performance.now() + ms; performance.now() < end; );
  };
  const made = await inPieces(
    mapped(Array.from({ length: 5_000 }), (_, i) => {
      busy(0.1);
      return i;
    }),
  );
  clearInterval(other);
  expect(made).toEqual(Array.from({ length: 5_000 }, (_, i) => i));
  // Half a second in pieces of a twentieth.
  expect(turns).toBeGreaterThan(3);
});
