import { alarmReasonWords, ruleKey } from "@/core/idle";
import { zoneOf } from "@/core/rounds";
import { formatInstant, type Instant, MINUTE_S } from "@/core/time";
import { addMail, type Db, type UntoldAlarm } from "@/store";
import type { Services } from "../admin";
import { addressOf, leaveOnLink, ownersMail } from "../idle";
import { loadSnapshot } from "../inventory";
import { noticeHtml, queueMail, timeText } from "../report";
import type { Event } from "./notify";

/** Puts the mails of warnings and trips on their way to the owners, and gives the events that say the same. */
export async function tellIdle(services: Services, db: Db, changes: readonly UntoldAlarm[]): Promise<Event[]> {
  if (changes.length === 0) return [];
  const [snapshot, owners] = await Promise.all([loadSnapshot(services), ownersMail(services.pool)]);
  const byId = new Map(snapshot.resources.map((resource) => [resource.id, resource]));
  const events: Event[] = [];
  for (const change of changes) {
    const resource = byId.get(change.resourceId);
    const plan = snapshot.fleets.find(({ name }) => name === change.fleet)?.inForce;
    const rule = plan?.idle?.find((one) => ruleKey(one) === change.ruleKey);
    const address = resource ? addressOf(resource.tags, owners) : null;
    const zone = (resource && zoneOf(resource, snapshot.capabilities)) ?? "UTC";
    const actsAt = change.state === "warned" && rule ? change.at + rule.warn * MINUTE_S : null;
    const leaveOn = await leaveOnLink(services, { resourceId: change.resourceId, change: change.id, at: change.at });
    const hasHours = plan?.hours !== undefined;
    const telling = { change, action: rule?.action ?? "stop", actsAt, zone, leaveOn, hasHours };
    const { subject, text, label } = wordsOf(telling);
    const page = `${services.url}/machines/${encodeURIComponent(change.resourceId)}`;
    // What was left on needs no second press: its mail leads to its page.
    const href = change.state === "left on" ? page : leaveOn;
    if (address !== null) {
      const id = await addMail(db, {
        kind: "idle",
        reportId: null,
        recipientId: null,
        address,
        day: null,
        subject: subject.slice(0, 200).replaceAll(/\s+/g, " "),
        html: noticeHtml({ title: subject, text, label, href }),
        text: `${subject}.\n\n${text}\n\n${label}: ${href}\n`,
        headers: {},
        at: change.at,
      });
      if (id !== null) await queueMail(db, id);
    }
    events.push({
      type:
        change.state === "warned"
          ? "umbrik.idle.warned"
          : change.state === "tripped"
            ? "umbrik.idle.tripped"
            : "umbrik.idle.left-on",
      id: `idle ${change.id}${change.isHeld ? " held" : ""}`,
      subject: change.resourceId,
      time: change.at,
      data: {
        resourceId: change.resourceId,
        name: change.name,
        fleet: change.fleet,
        owner: change.owner,
        address,
        rule: change.words,
        action: telling.action,
        why: alarmReasonWords(change.reason, change.words),
        samples: change.samples,
        isHeld: change.isHeld,
        actsAt: actsAt === null ? null : formatInstant(actsAt),
        text: subject,
        ...(change.state === "left on" ? {} : { leaveOn }),
        href: page,
      },
    });
  }
  return events;
}

type Told = Readonly<{ change: UntoldAlarm; action: string; actsAt: Instant | null; zone: string; hasHours: boolean }>;

function wordsOf({ change, action, actsAt, zone, hasHours }: Told): { subject: string; text: string; label: string } {
  const { name, fleet, words, state } = change;
  const because = `${words} (fleet ${fleet})`;
  const done = action === "hibernate" ? "hibernated" : "stopped";
  if (state === "tripped" && change.isHeld)
    return {
      subject: `${name} was idle, and runs on until a person lets it be ${done}`,
      text: `At ${timeText(change.at, zone)}: ${because}. So many at once are not stopped unasked. If you are at work on it, leave it on.`,
      label: "Leave it on for 2 hours",
    };
  if (state === "left on")
    return {
      subject: `${name} is left on for 2 hours`,
      text: `Somebody pressed the link at ${timeText(change.at, zone)}. After that fleet ${fleet} looks after it again.`,
      label: "Look at it",
    };
  if (action === "tell")
    return {
      subject: `${name} is idle`,
      text: `Since ${timeText(change.at, zone)}: ${because}. Nothing is done about it.`,
      label: "Leave it on for 2 hours",
    };
  if (state === "warned")
    return {
      subject: `${name} is idle: it is ${done} at ${actsAt === null ? "the next look" : timeText(actsAt, zone)} unless you leave it on`,
      text: `It has been idle: ${because}. If you are at work on it, or something runs there, leave it on.`,
      label: "Leave it on for 2 hours",
    };
  return {
    subject: `${name} was idle and is being ${done}`,
    text: `At ${timeText(change.at, zone)}: ${because}. It comes back ${hasHours ? "with its hours, or when" : "when"} you start it.`,
    label: "Start it for 2 hours",
  };
}
