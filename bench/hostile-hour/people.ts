import { setTimeout as pause } from "node:timers/promises";

export type Looks = Readonly<{ times: number[]; slowest: Readonly<{ path: string; ms: number }>; failed: readonly string[] }>;

const PATHS = [
  "/",
  "/api/burn",
  "/fleets",
  "/rounds",
  "/sources",
  "/machines/crowd-1%3Acrowd-800",
  "/strays",
  "/prices",
  "/reports",
];
const PEOPLE = 10;
const THINKING_MS = 1_500;

/** Ten people look about, each at a page every second or two, until told to stop. */
export async function people(url: string, stopping: AbortSignal): Promise<Looks> {
  const times: number[] = [];
  const failed: string[] = [];
  let slowest = { path: "", ms: 0 };
  const one = async (who: number) => {
    for (let turn = who; !stopping.aborted; turn++) {
      const path = PATHS[turn % PATHS.length] as string;
      const began = performance.now();
      const status = await fetch(url + path).then(
        async (response) => {
          await response.arrayBuffer();
          return response.status;
        },
        () => 0,
      );
      const ms = performance.now() - began;
      if (status !== 200) failed.push(`${path} ${status}`);
      times.push(ms);
      if (ms > slowest.ms) slowest = { path, ms };
      await pause(THINKING_MS);
    }
  };
  await Promise.all(Array.from({ length: PEOPLE }, (_, who) => one(who)));
  return { times, slowest, failed };
}
