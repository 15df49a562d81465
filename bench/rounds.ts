import { startNode, typescript } from "../bin/lib/processes.mjs";
import { freshDatabase } from "../tests/support/world";
import { report } from "./measure";

const SIZES = [1_000, 10_000, 100_000] as const;
const ROUND_MS = 5_000;
const LAG_MS = 2_000;
const MEMORY_MB = 1_000;
/** Ten times as many may take so many times as long. */
const GROWTH_MAX = 10;
/** What a round takes besides, however few the machines. */
const FLOOR_MS = 200;

type Figures = Readonly<{ first: number; decided: number; quiet: number; edge: number; lag: number | null; memoryMb: number }>;

/** Whole rounds against a stand-in of its own process, eight accounts, listing included: a table over their sizes. */
export async function benchRounds(yardstick: number): Promise<void> {
  const rows: Figures[] = [];
  for (const size of SIZES) rows.push(await figuresOf(size));
  const beside = `sorting a million numbers, ${yardstick.toFixed(0)} ms`;
  for (const [what, words] of [
    ["first", "read for the first time"],
    ["decided", "read, decided and recorded anew"],
    ["quiet", "read and decided, nothing new"],
  ] as const) {
    const ms = rows.map((row) => row[what]);
    const growth = ms.slice(1).map((one, i) => Math.max(one, FLOOR_MS) / Math.max(ms[i] as number, FLOOR_MS));
    report({
      name: `a round, ${words}, 1,000, 10,000 and 100,000 machines`,
      figure: `${ms.map((one) => one.toFixed(0)).join(", ")} ms: ${growth.map((one) => one.toFixed(1)).join(" and ")} times`,
      target: `at most ${GROWTH_MAX} times for ten times as many`,
      isMet: growth.every((one) => one <= GROWTH_MAX),
      yardstick: "the size before",
    });
  }
  const memory = rows.map(({ memoryMb }) => memoryMb);
  report({
    name: "the most memory of its process",
    figure: `${memory.map((one) => one.toFixed(0)).join(", ")} MB`,
    target: `at most ${MEMORY_MB} MB`,
    isMet: memory.every((one) => one <= MEMORY_MB),
    yardstick: "the size before",
  });
  const ten = rows[1] as Figures;
  report({
    name: "a full round over 10,000 machines, listing included; decided anew, quiet, at an edge of 200",
    figure: [ten.decided, ten.quiet, ten.edge].map((ms) => `${ms.toFixed(0)} ms`).join(", "),
    target: `at most ${ROUND_MS} ms`,
    isMet: Math.max(ten.decided, ten.quiet, ten.edge) <= ROUND_MS,
    yardstick: beside,
  });
  report({
    name: "from the start of an edge's round to its first action, 10,000 machines",
    figure: ten.lag === null ? "no action" : `${ten.lag.toFixed(0)} ms`,
    target: `at most ${LAG_MS} ms`,
    isMet: ten.lag !== null && ten.lag <= LAG_MS,
    yardstick: beside,
  });
}

async function figuresOf(machines: number): Promise<Figures> {
  const database = await freshDatabase();
  const standin = startNode(typescript("bench/crowd.ts", [String(machines)]));
  try {
    const { port } = JSON.parse(await standin.firstLine) as { port: number };
    const rounds = startNode(typescript("bench/crowd-rounds.ts", [`http://127.0.0.1:${port}`]), { DATABASE_URL: database.url });
    const figures = JSON.parse(await rounds.firstLine) as Figures;
    await rounds.ended;
    return figures;
  } finally {
    await standin.stop();
    await database.drop();
  }
}
