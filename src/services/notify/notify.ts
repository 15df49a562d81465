import { type CloudEvent, cloudEvent, type EventType } from "@/core/cloud-event";
import { formatInstant } from "@/core/time";
import {
  addDeliveries,
  addJob,
  type Db,
  type EndedAction,
  inTransaction,
  newAlerts,
  takeUntold,
  takeUntoldAlarms,
  takeUntoldNotices,
  takeUntoldStarts,
  webhookList,
} from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";
import { mailAlert } from "../report";
import { attention } from "../rounds";
import { attentionWords } from "./attention-words";
import { tellIdle } from "./idle";

/** Of one look; what is left is told at the next. */
const AT_ONCE = 500;

/**
 * Tells webhooks of the actions that ended, and those who get the report on everything, and webhooks, of what
 * needs a person since now. What is taken to be told is on its way in the same transaction: a process that
 * dies in between loses nothing and repeats nothing.
 */
export async function notifyOfEvents(services: Services, actor: Actor): Promise<void> {
  authorise(actor, "work", ESTATE);
  const { pool, url } = services;
  const [{ now }, needs] = await Promise.all([services.clock.read(), attention(services, actor)]);
  const lines = needs.map((line) => ({ kind: line.kind, ...attentionWords(line) }));
  await inTransaction(pool, async (tx) => {
    const fresh = new Set(await newAlerts(tx, [...new Set(lines.map(({ key }) => key))], now));
    const events: Event[] = [];
    for (const { kind, key, text, path } of lines) {
      if (!fresh.delete(key)) continue;
      const href = `${url}${path}`;
      await mailAlert(services, tx, { text, href, at: now });
      const type = kind === "held" ? "umbrik.stops.held" : "umbrik.attention";
      events.push({ type, id: `${type} ${key} ${now}`, subject: key, time: now, data: { text, href } });
    }
    for (const action of await takeUntold(tx, AT_ONCE)) {
      const { key, resourceId, endedAt, ...data } = action;
      events.push({ type: typeOf(action), id: key, subject: resourceId, time: endedAt, data: { resourceId, ...data } });
    }
    for (const { id, from, to, ...start } of await takeUntoldStarts(tx, AT_ONCE)) {
      const data = { ...start, until: formatInstant(to), href: `${url}/machines/${encodeURIComponent(start.resourceId)}` };
      events.push({ type: "umbrik.start.kept", id: `start ${id}`, subject: start.resourceId, time: from, data });
    }
    for (const { noticedAt, resourceId, ...member } of await takeUntoldNotices(tx, AT_ONCE)) {
      // Whoever runs work there has from now until the provider's notice is over.
      const data = { ...member, resourceId, noticedAt: formatInstant(noticedAt) };
      events.push({
        type: "umbrik.mix.notice",
        id: `notice ${resourceId} ${noticedAt}`,
        subject: resourceId,
        time: noticedAt,
        data,
      });
    }
    events.push(...(await tellIdle(services, tx, await takeUntoldAlarms(tx, AT_ONCE))));
    await notify(tx, url, events);
  });
}

function typeOf({ status }: EndedAction): EventType {
  if (status === "done") return "umbrik.action.done";
  return status === "refused" ? "umbrik.action.failed" : "umbrik.action.given-up";
}

export type Event = Omit<CloudEvent, "source">;

/** Puts events on their way to every webhook that is on, or to one alone. */
export async function notify(db: Db, source: string, events: readonly Event[], only: number | null = null): Promise<void> {
  const hooks = (await webhookList(db)).filter(({ id, isOn }) => (only === null ? isOn : id === only));
  const made = await addDeliveries(
    db,
    events.flatMap((event) => {
      const body = cloudEvent({ ...event, source });
      return hooks.map(({ id }) => ({ webhookId: id, eventId: event.id, type: event.type, body, at: event.time }));
    }),
  );
  for (const id of made) await queueDelivery(db, id);
}

const DELIVERY_ATTEMPTS = 10;

/** Puts a delivery on the queue; what fails is tried again with growing waits. */
export async function queueDelivery(db: Db, id: number): Promise<void> {
  await addJob(db, "webhook", { payload: { id }, key: `webhook ${id}`, maxAttempts: DELIVERY_ATTEMPTS });
}
