import { createHmac, randomBytes, timingSafeEqual } from "node:crypto";
import { z } from "zod";
import type { Instant } from "@/core/time";
import { type Pool, settleSetting } from "@/store";

const KEY = "signing key";
const keySchema = z.string().regex(/^[0-9a-f]{64}$/);

/** What a signed link allows, for whom, and until when. */
const claimSchema = z.discriminatedUnion("what", [
  z.strictObject({ what: z.enum(["confirm", "unsubscribe"]), recipient: z.number().int(), until: z.number().int() }),
  /** Leaves a machine on for some hours, once; `change`: the warning or trip that it was sent for. */
  z.strictObject({
    what: z.literal("leave on"),
    resourceId: z.string(),
    change: z.number().int(),
    hours: z.number().int().min(1).max(24),
    until: z.number().int(),
  }),
]);
export type Claim = z.infer<typeof claimSchema>;

/** Makes the key that links are signed with, once; later calls find it. */
export async function ensureSigningKey(pool: Pool): Promise<void> {
  await keyOf(pool);
}

async function keyOf(pool: Pool): Promise<Buffer> {
  const value = randomBytes(32).toString("hex");
  return Buffer.from(await settleSetting(pool, KEY, { value, schema: keySchema }), "hex");
}

/** A token for a link: the claim and its HMAC-SHA-256 (RFC 2104), both base64url. */
export async function signClaim(pool: Pool, claim: Claim): Promise<string> {
  const body = Buffer.from(JSON.stringify(claim)).toString("base64url");
  return `${body}.${macOf(await keyOf(pool), body).toString("base64url")}`;
}

export type ClaimResult = Readonly<{ ok: true; claim: Claim } | { ok: false; reason: "forged" | "expired" }>;

/** Reads a token of a link. One whose signature is not ours says nothing, whatever it holds. */
export async function readClaim(pool: Pool, token: string, now: Instant): Promise<ClaimResult> {
  const [body = "", mac = "", ...more] = token.split(".");
  const expected = macOf(await keyOf(pool), body);
  const given = Buffer.from(mac, "base64url");
  if (more.length > 0 || given.length !== expected.length || !timingSafeEqual(given, expected))
    return { ok: false, reason: "forged" };
  const claim = claimSchema.parse(JSON.parse(Buffer.from(body, "base64url").toString("utf8")));
  return claim.until < now ? { ok: false, reason: "expired" } : { ok: true, claim };
}

function macOf(key: Buffer, body: string): Buffer {
  return createHmac("sha256", key).update(body).digest();
}
