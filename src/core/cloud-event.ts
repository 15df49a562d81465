import type { Instant } from "./time";
import { formatInstant } from "./time";

/** What others can be told of. */
export const EVENT_TYPES = [
  "umbrik.action.done",
  "umbrik.action.failed",
  "umbrik.action.given-up",
  "umbrik.start.kept",
  "umbrik.idle.warned",
  "umbrik.idle.tripped",
  "umbrik.idle.left-on",
  "umbrik.mix.notice",
  "umbrik.stops.held",
  "umbrik.attention",
  "umbrik.test",
] as const;
export type EventType = (typeof EVENT_TYPES)[number];

export type CloudEvent = Readonly<{
  id: string;
  type: EventType;
  /** The address of the application that tells. */
  source: string;
  /** What it is about, as Umbrik knows it. */
  subject: string;
  time: Instant;
  data: Readonly<Record<string, unknown>>;
}>;

/** An event as JSON after CloudEvents 1.0 (structured mode). */
export function cloudEvent({ id, type, source, subject, time, data }: CloudEvent): string {
  return JSON.stringify({
    specversion: "1.0",
    id,
    type,
    source,
    subject,
    time: formatInstant(time),
    datacontenttype: "application/json",
    data,
  });
}
