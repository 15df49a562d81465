import type { Resource } from "@/core/plan";
import type { Commitment } from "@/core/pricing";
import type { Cost } from "@/core/spend";
import type { Instant } from "@/core/time";
import type { Prices } from "@/store";
import type { Snapshot } from "../../inventory";

export type ComputedCosts = ReadonlyMap<string, ReadonlyMap<Instant, Cost>>;

export type CostsInput = Readonly<{
  resources: readonly Resource[];
  capabilities: Snapshot["capabilities"];
  prices: Prices;
  from: Instant;
  to: Instant;
  /** Where what is known ends; what runs then is not over. */
  knownTo: Instant;
  /** The length of a step in seconds; a UTC day unless said. */
  stepS?: number;
}>;

const OF_COMMITMENT = "commitment:";

/** A commitment's fee among the costs, beside those of resources. */
export function commitmentKey({ id }: Pick<Commitment, "id">): string {
  return `${OF_COMMITMENT}${id}`;
}

/** Whether an entry of the ledger of days is a commitment's fee, and no resource. */
export function isCommitmentKey(id: string): boolean {
  return id.startsWith(OF_COMMITMENT);
}
