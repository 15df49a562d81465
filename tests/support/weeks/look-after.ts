import { DEMO_ACTOR, type Services, WORKER } from "@/services/admin";
import { approveStops, openRound, runRound } from "@/services/rounds";

/** A round; what it holds because nobody could foresee it, a person looks at and lets go at once. */
export async function roundWithPerson(services: Services): Promise<void> {
  const id = await runRound(services, WORKER, "act");
  const { round: ended } = await openRound(services, DEMO_ACTOR, { id: id ?? 0, offset: 0 });
  if (ended.braked === 0) return;
  await approveStops(services, DEMO_ACTOR, { round: ended.id, stops: ended.braked });
  await runRound(services, WORKER, "act");
}
