import { randomBytes, randomUUID } from "node:crypto";
import { isIP } from "node:net";
import { isHere, postWebhook, SECRET_PREFIX } from "@/provider";
import {
  addWebhook,
  type Delivery,
  deliveryList,
  maybeDelivery,
  maybeWebhook,
  removeWebhook,
  saveDelivery,
  setWebhook,
  setWebhookSecret,
  signal,
  type Webhook,
  webhookList,
} from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";
import { notify, queueDelivery } from "./notify";

const LOG = 20;
const URL_MAX = 2000;

/** A webhook with its last deliveries. Its secret is shown once, when it is made. */
export type WebhookView = Readonly<Omit<Webhook, "secret"> & { deliveries: readonly Omit<Delivery, "body">[] }>;

export async function webhooks(services: Services, actor: Actor): Promise<WebhookView[]> {
  authorise(actor, "look", ESTATE);
  const hooks = await webhookList(services.pool);
  return Promise.all(
    hooks.map(async ({ secret: _, ...hook }) => ({
      ...hook,
      deliveries: (await deliveryList(services.pool, hook.id, LOG)).map(({ body: __, ...delivery }) => delivery),
    })),
  );
}

/** Sets a webhook up; the secret that its events are signed with is told this once. */
export async function makeWebhook(services: Services, actor: Actor, url: string): Promise<{ id: number; secret: string }> {
  authorise(actor, "set up", ESTATE);
  const issue = issueOf(url.trim(), services.allowsLocalWebhooks);
  if (issue) throw new RefusedError("invalid", issue, [{ path: "url", message: issue }]);
  const { now } = await services.clock.read();
  const secret = newSecret();
  const id = await addWebhook(services.pool, { url: url.trim(), secret, person: actor.name, at: now });
  if (id === null)
    throw new RefusedError("name_taken", "That address is told already.", [{ path: "url", message: "it is told already" }]);
  return { id, secret };
}

/** Why an address cannot be told; null where it can. Where a name leads is looked at when something is sent. */
function issueOf(url: string, allowsHere: boolean): string | null {
  if (url.length > URL_MAX || !URL.canParse(url)) return "expected an address such as https://hooks.example/umbrik";
  const { protocol, hostname, username } = new URL(url);
  if (protocol !== "https:" && protocol !== "http:") return "expected an address that begins with https:// or http://";
  if (username !== "") return "a name and a password do not belong in the address";
  const host = hostname.replace(/^\[|\]$/g, "");
  const isOwn = host === "localhost" || (isIP(host) !== 0 && isHere(host));
  return isOwn && !allowsHere ? "it is an address of this machine" : null;
}

function newSecret(): string {
  return `${SECRET_PREFIX}${randomBytes(32).toString("base64")}`;
}

/** A new secret, told this once: what is sent from now on is signed with it. The one before goes on until this is asked. */
export async function renewSecret(services: Services, actor: Actor, id: number): Promise<string> {
  authorise(actor, "set up", ESTATE);
  const secret = newSecret();
  if (!(await setWebhookSecret(services.pool, id, secret))) throw new RefusedError("not_found", `There is no webhook ${id}.`);
  return secret;
}

export async function setHook(services: Services, actor: Actor, { id, isOn }: { id: number; isOn: boolean }): Promise<void> {
  authorise(actor, "set up", ESTATE);
  if (!(await setWebhook(services.pool, id, isOn))) throw new RefusedError("not_found", `There is no webhook ${id}.`);
}

export async function removeHook(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "set up", ESTATE);
  if (!(await removeWebhook(services.pool, id))) throw new RefusedError("not_found", `There is no webhook ${id}.`);
}

/** Sends an event that says nothing but that it is one. */
export async function testHook(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "set up", ESTATE);
  if (!(await maybeWebhook(services.pool, id))) throw new RefusedError("not_found", `There is no webhook ${id}.`);
  const { now } = await services.clock.read();
  const data = { by: actor.name };
  await notify(
    services.pool,
    services.url,
    [{ type: "umbrik.test", id: randomUUID(), subject: `webhook ${id}`, time: now, data }],
    id,
  );
}

/** One attempt at a delivery. Throws where it did not go through, so that the queue tries again; the last attempt ends it. */
export async function deliver(services: Services, actor: Actor, { id, isLast }: { id: number; isLast: boolean }): Promise<void> {
  authorise(actor, "work", ESTATE);
  const { pool } = services;
  const delivery = await maybeDelivery(pool, id);
  const hook = delivery ? await maybeWebhook(pool, delivery.webhookId) : null;
  if (!delivery || !hook || delivery.status === "delivered") return;
  const { now } = await services.clock.read();
  const posting = { id: delivery.eventId, body: delivery.body, at: Math.floor(Date.now() / 1000) };
  const { isDelivered, answer } = await postWebhook(hook, posting, services.allowsLocalWebhooks);
  const status = isDelivered ? "delivered" : isLast ? "failed" : "waiting";
  await saveDelivery(pool, id, { status, answer, at: now });
  await signal(pool, "webhook");
  if (!isDelivered) throw new Error(`webhook ${hook.id}: ${answer}`);
}

/** Tries a delivery again that was given up. */
export async function retryDelivery(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "set up", ESTATE);
  const delivery = await maybeDelivery(services.pool, id);
  if (!delivery || delivery.status === "delivered") throw new RefusedError("invalid", "That is delivered already, or is none.");
  await queueDelivery(services.pool, id);
}
