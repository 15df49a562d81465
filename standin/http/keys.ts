import type { IncomingMessage } from "node:http";
import { ACCOUNTS, LOOK_AND_START_KEY } from "../../demo/accounts";
import { Refusal } from "../world/refusal";

export type Holder = Readonly<{ account: string; provider: string; rights: readonly string[] }>;

const holders = new Map<string, Holder>(
  [...ACCOUNTS, LOOK_AND_START_KEY].map((entry) => {
    const provider = ACCOUNTS.find(({ name }) => name === ("name" in entry ? entry.name : entry.account))?.provider ?? "";
    return [entry.key, { account: "name" in entry ? entry.name : entry.account, provider, rights: entry.rights }];
  }),
);

/** Lets a key in that the demo does not have. */
export function admit(key: string, holder: Holder): void {
  holders.set(key, holder);
}

/** Whose key a request carries; refuses one that is unknown, of another provider, or without the right. */
export function holderOf(request: IncomingMessage, provider: string, right: string): Holder {
  const key = /^Bearer (.+)$/.exec(request.headers.authorization ?? "")?.[1];
  const holder = key === undefined ? undefined : holders.get(key);
  if (!key || !holder || holder.provider !== provider) throw new Refusal(401, "bad_key", "this key is not known here");
  if (!holder.rights.includes(right)) throw new Refusal(403, "right_missing", `this key has no right to ${right}`);
  takeToken(key);
  return holder;
}

const BURST = 120;
const PER_SECOND = 60;
const buckets = new Map<string, { tokens: number; at: number }>();

/** At most 60 requests a second with one key, 120 at once. Counted on the wall clock: it guards this process. */
function takeToken(key: string): void {
  const now = Date.now() / 1000;
  const bucket = buckets.get(key) ?? { tokens: BURST, at: now };
  bucket.tokens = Math.min(BURST, bucket.tokens + (now - bucket.at) * PER_SECOND);
  bucket.at = now;
  buckets.set(key, bucket);
  if (bucket.tokens < 1) throw new Refusal(429, "throttled", "too many requests with this key");
  bucket.tokens -= 1;
}
