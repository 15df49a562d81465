import { expect, test } from "vitest";
import { HANG_MS, holdsAgainst } from "../support/fuzz/holds";
import { READERS } from "../support/fuzz/readers";
import { within } from "../support/patience";

const RUNS = 300;

test.each(READERS.map((reader) => [reader.name, reader] as const))(
  "%s may be anything: it is read or refused, without a hang",
  async (_, reader) => {
    expect(await holdsAgainst(reader, RUNS)).toBeLessThan(HANG_MS);
  },
  within(120),
);
