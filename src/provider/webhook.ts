import { createHmac } from "node:crypto";
import { request as plain } from "node:http";
import { request as secure } from "node:https";
import { isIP } from "node:net";
import { isHere, lookupElsewhere } from "./reach";

const TIMEOUT_MS = 10_000;
const ANSWER_MAX = 2_000;

export type Hook = Readonly<{ url: string; secret: string }>;
export type Posting = Readonly<{ id: string; body: string; at: number }>;
/** What came of a delivery: the status, and the beginning of what was answered. */
export type Posted = Readonly<{ isDelivered: boolean; answer: string }>;

/**
 * Signs and posts one event (HMAC-SHA256 over id, time and body, after the Standard Webhooks specification).
 * Redirects are not followed, the answer is read no further than its beginning, and an address of this
 * machine is refused when its name is looked up, unless `allowsHere`.
 */
export async function postWebhook({ url, secret }: Hook, { id, body, at }: Posting, allowsHere: boolean): Promise<Posted> {
  const signature = createHmac("sha256", keyOf(secret)).update(`${id}.${at}.${body}`).digest("base64");
  const target = new URL(url);
  const host = target.hostname.replace(/^\[|\]$/g, "");
  if (!allowsHere && isIP(host) !== 0 && isHere(host)) return { isDelivered: false, answer: "it is an address of this machine" };
  return new Promise((resolved) => {
    const done = (posted: Posted) => {
      clearTimeout(limit);
      resolved(posted);
    };
    const sent = (target.protocol === "https:" ? secure : plain)(
      target,
      {
        method: "POST",
        timeout: TIMEOUT_MS,
        lookup: allowsHere ? undefined : lookupElsewhere,
        headers: {
          "content-type": "application/cloudevents+json; charset=utf-8",
          "content-length": Buffer.byteLength(body),
          "user-agent": "umbrik",
          "webhook-id": id,
          "webhook-timestamp": String(at),
          "webhook-signature": `v1,${signature}`,
        },
      },
      (response) => {
        let text = "";
        const end = () => {
          const status = response.statusCode ?? 0;
          done({ isDelivered: status >= 200 && status < 300, answer: `${status} ${text.slice(0, 200)}`.trim() });
        };
        response.on("data", (part: Buffer) => {
          text += part.toString("utf8");
          if (text.length > ANSWER_MAX) response.destroy();
        });
        response.on("close", end);
      },
    );
    // For all of it: who drips a byte now and then is never idle.
    const limit = setTimeout(() => sent.destroy(new Error("no whole answer within 10 s")), TIMEOUT_MS);
    sent.on("timeout", () => sent.destroy(new Error("no answer within 10 s")));
    sent.on("error", (error) => done({ isDelivered: false, answer: error.message }));
    sent.end(body);
  });
}

/** What begins a secret as the Standard Webhooks specification writes it; what follows is the key in base64. */
export const SECRET_PREFIX = "whsec_";

/** The key of a secret. One from before they had a prefix is its own text. */
function keyOf(secret: string): Buffer {
  return secret.startsWith(SECRET_PREFIX) ? Buffer.from(secret.slice(SECRET_PREFIX.length), "base64") : Buffer.from(secret);
}
