import { CHANNEL, type Pool, type Signal } from "@/store";
import type { Services } from "./context";
import { authorise, type Person } from "./person";

type Listener = (what: Signal) => void;

const listeners = new Set<Listener>();
let isOpening = false;

/** Calls back at every change that any process signals, until the returned function is called. */
export function listen({ pool }: Services, person: Person, listener: Listener): () => void {
  authorise(person, "look");
  listeners.add(listener);
  if (!isOpening) void keepListening(pool);
  return () => listeners.delete(listener);
}

/** One connection listens for the whole process; when it breaks another takes over a second later. */
async function keepListening(pool: Pool): Promise<void> {
  isOpening = true;
  for (;;) {
    try {
      const client = await pool.connect();
      const broken = new Promise<void>((resolve) => client.once("error", () => resolve()));
      client.on("notification", ({ payload }) => {
        for (const listener of listeners) listener(payload as Signal);
      });
      await client.query(`listen ${CHANNEL}`);
      await broken;
      client.release(true);
    } catch (error) {
      if ((error as Error).message?.includes("after calling end")) break;
    }
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
  isOpening = false;
}
