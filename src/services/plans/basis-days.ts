import { DAY_S, tryParseDate } from "@/core/time";
import { addJob, forgetRealised, inTransaction, maybeFleet, saveBasis, signal } from "@/store";
import { type Actor, authorise, RefusedError, type Services } from "../admin";

export type BasisRequest = Readonly<{ id: number; basis: Readonly<{ from: string; to: string }> | null }>;
const DAYS_MAX = 370;

/** Sets the UTC days a fleet is compared with, or goes back to those before its first plan; what it saved is measured anew. */
export async function setBasis(services: Services, actor: Actor, { id, basis }: BasisRequest): Promise<void> {
  authorise(actor, "edit plans", { kind: "fleet", fleet: id });
  const { pool, clock } = services;
  const fleet = await maybeFleet(pool, id);
  if (!fleet) throw new RefusedError("not_found", `There is no fleet ${id}.`);
  if (basis) {
    const { now } = await clock.read();
    const [from, to] = [tryParseDate(basis.from), tryParseDate(basis.to)];
    const end = Math.floor((fleet.firstInForceAt ?? now) / DAY_S);
    if (from === null || to === null || to < from || to - from >= DAYS_MAX)
      throw new RefusedError("invalid", `Expected two dates, the second not before the first, at most ${DAYS_MAX} days apart.`);
    if (from >= end)
      throw new RefusedError(
        "invalid",
        fleet.firstInForceAt === null
          ? "These days are not over yet."
          : "A plan was in force on all of these days, and a plan is never compared with itself: choose days before its first.",
      );
  }
  await inTransaction(pool, async (tx) => {
    await saveBasis(tx, id, basis);
    await forgetRealised(tx, fleet.name);
  });
  await addJob(pool, "spend");
  await signal(pool, "fleets");
}
