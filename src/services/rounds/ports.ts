import type { ProviderParts } from "@/provider";
import type { Services } from "../admin";
import type { Snapshot } from "../inventory";

/** How long a round goes on sending; what is left goes with the next one. */
const SENDING_MS = 25_000;

/** The ports to the accounts, and what ends their asking when it has taken long enough. */
export function portsFor(
  { provider }: Services,
  { accounts }: Pick<Snapshot, "accounts">,
): Readonly<{ signal: AbortSignal; portOf: (account: string) => ProviderParts | undefined }> {
  const signal = AbortSignal.timeout(SENDING_MS);
  const ports = new Map(accounts.map((account) => [account.name, provider(account, signal)]));
  return { signal, portOf: (account) => ports.get(account) };
}
