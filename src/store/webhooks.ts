import type { Instant } from "@/core/time";
import type { Db } from "./pool";

export type Webhook = Readonly<{ id: number; url: string; secret: string; isOn: boolean; person: string; at: Instant }>;

export type Delivery = Readonly<{
  id: number;
  webhookId: number;
  eventId: string;
  type: string;
  body: string;
  status: "waiting" | "delivered" | "failed";
  attempts: number;
  answer: string;
  at: Instant;
  deliveredAt: Instant | null;
}>;

const HOOK = `id, url, secret, is_on as "isOn", person, at`;
const DELIVERY = `id, webhook_id as "webhookId", event_id as "eventId", type, body, status, attempts, answer, at, delivered_at as "deliveredAt"`;

export async function webhookList(db: Db): Promise<Webhook[]> {
  const { rows } = await db.query<Webhook>(`select ${HOOK} from webhook order by id limit 1000`);
  return rows;
}

export async function maybeWebhook(db: Db, id: number): Promise<Webhook | null> {
  const { rows } = await db.query<Webhook>(`select ${HOOK} from webhook where id = $1::integer`, [id]);
  return rows[0] ?? null;
}

/** The new one's number; null where that address is there already. */
export async function addWebhook(db: Db, { url, secret, person, at }: Omit<Webhook, "id" | "isOn">): Promise<number | null> {
  const { rows } = await db.query<{ id: number }>(
    `insert into webhook (url, secret, person, at)
     values ($1::text, $2::text, $3::text, to_timestamp($4::double precision))
     on conflict do nothing
     returning id`,
    [url, secret, person, at],
  );
  return rows[0]?.id ?? null;
}

export async function setWebhook(db: Db, id: number, isOn: boolean): Promise<boolean> {
  const { rowCount } = await db.query("update webhook set is_on = $2::boolean where id = $1::integer", [id, isOn]);
  return rowCount === 1;
}

export async function setWebhookSecret(db: Db, id: number, secret: string): Promise<boolean> {
  const { rowCount } = await db.query("update webhook set secret = $2::text where id = $1::integer", [id, secret]);
  return rowCount === 1;
}

export async function removeWebhook(db: Db, id: number): Promise<boolean> {
  const { rowCount } = await db.query("delete from webhook where id = $1::integer", [id]);
  return rowCount === 1;
}

export type NewDelivery = Readonly<Pick<Delivery, "webhookId" | "eventId" | "type" | "body" | "at">>;

/** Stores deliveries to be made; their numbers, in order. */
export async function addDeliveries(db: Db, deliveries: readonly NewDelivery[]): Promise<number[]> {
  if (deliveries.length === 0) return [];
  const { rows } = await db.query<{ id: number }>(
    `insert into webhook_delivery (webhook_id, event_id, type, body, status, at)
     select hook, event, type, body, 'waiting', to_timestamp(at)
     from unnest($1::integer[], $2::text[], $3::text[], $4::text[], $5::double precision[]) as line (hook, event, type, body, at)
     returning id`,
    [
      deliveries.map(({ webhookId }) => webhookId),
      deliveries.map(({ eventId }) => eventId),
      deliveries.map(({ type }) => type),
      deliveries.map(({ body }) => body),
      deliveries.map(({ at }) => at),
    ],
  );
  return rows.map(({ id }) => id);
}

export async function maybeDelivery(db: Db, id: number): Promise<Delivery | null> {
  const { rows } = await db.query<Delivery>(`select ${DELIVERY} from webhook_delivery where id = $1::integer`, [id]);
  return rows[0] ?? null;
}

/** The last deliveries of a webhook, newest first. */
export async function deliveryList(db: Db, webhookId: number, limit: number): Promise<Delivery[]> {
  const { rows } = await db.query<Delivery>(
    `select ${DELIVERY} from webhook_delivery where webhook_id = $1::integer order by id desc limit $2::integer`,
    [webhookId, limit],
  );
  return rows;
}

export async function saveDelivery(
  db: Db,
  id: number,
  { status, answer, at }: { status: Delivery["status"]; answer: string; at: Instant },
): Promise<void> {
  await db.query(
    `update webhook_delivery
     set status = $2::text, answer = $3::text, attempts = attempts + 1,
       delivered_at = case when $2::text = 'delivered' then to_timestamp($4::double precision) end
     where id = $1::integer`,
    [id, status, answer, at],
  );
}

/** An action that has come to an end of which nobody was told. */
export type EndedAction = Readonly<{
  id: number;
  key: string;
  roundId: number;
  resourceId: string;
  name: string;
  verb: string;
  level: number;
  status: "done" | "refused" | "given up";
  attempts: number;
  lastAnswer: string;
  endedAt: Instant;
}>;

/** Takes the ends that nobody was told of, up to a number; each is taken once. */
export async function takeUntold(db: Db, limit: number): Promise<EndedAction[]> {
  const { rows } = await db.query<EndedAction>(
    `with taken as (
       update action set is_told = true
       where id = any (array(
         select id from action where not is_told and status in ('done', 'refused', 'given up') order by id limit $1::integer for update skip locked
       ))
       returning *
     )
     select t.id, t.key, t.round_id as "roundId", t.resource_id as "resourceId", coalesce(r.name, t.resource_id) as name, t.verb, t.level,
       t.status, t.attempts, t.last_answer as "lastAnswer", t.ended_at as "endedAt"
     from taken t
     left join resource r on r.id = t.resource_id
     order by t.id`,
    [limit],
  );
  return rows;
}

/** Notes what needs a person now; the keys that were not there before. What is over is forgotten. */
export async function newAlerts(db: Db, keys: readonly string[], at: Instant): Promise<string[]> {
  await db.query("delete from alert where not (key = any ($1::text[]))", [keys]);
  const { rows } = await db.query<{ key: string }>(
    `insert into alert (key, since)
     select key, to_timestamp($2::double precision) from unnest($1::text[]) as key
     on conflict do nothing
     returning key`,
    [keys, at],
  );
  return rows.map(({ key }) => key);
}
