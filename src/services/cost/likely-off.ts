import type { Resource } from "@/core/plan";
import { capabilitiesFor } from "@/core/plan";
import type { Amount, DatedCard, RateCard } from "@/core/pricing";
import { savedPerSecond } from "@/core/projection";
import { whyNoHibernation } from "@/core/rounds";
import { cardAt, type LifeSpan } from "@/core/spend";
import { HOUR_S, hourOfWeek, type Instant } from "@/core/time";
import { type Claim, likelyIdleOf, type Snapshot } from "../inventory";

/** What a fleet's idle alarms will likely take off one of its machines. */
export type LikelyOff = Readonly<{
  /** In each UTC hour of the week, of the seconds in which it is on, the share that alarms take off. */
  share: readonly number[];
  /** No hours say when it is on: the shares are of all of each hour. */
  isAlone: boolean;
  /** Whether what is off is hibernated, and what a second off saves is by that. */
  hibernates: boolean;
  canHibernate: boolean;
  ownSize: Claim["ownSize"];
}>;

/** Null for what no alarm turns off, and where nothing of it was learned. */
export function likelyOff(
  resource: Resource,
  claim: Claim,
  { snapshot, card }: Readonly<{ snapshot: Snapshot; card: RateCard | null }>,
): LikelyOff | null {
  const { plan, hours, ownSize } = claim;
  const known = likelyIdleOf(resource, claim, snapshot);
  const rules = (plan.idle ?? []).filter(({ action }) => action !== "tell");
  const capabilities = capabilitiesFor(resource, snapshot.capabilities);
  if (!known || !card || !capabilities) return null;
  const isAlone = hours.kind !== "schedule";
  return {
    isAlone,
    share: known.onS.map((onS, hour) => {
      const offS = Math.min(onS, known.offS[hour] ?? 0);
      // Where nothing but alarms speaks, what it was not on of the hour is off, too.
      if (isAlone) return 1 - (onS - offS) / HOUR_S;
      return onS === 0 ? 0 : offS / onS;
    }),
    hibernates: rules.every(({ action }) => action === "hibernate"),
    canHibernate: whyNoHibernation(resource, capabilities) === null,
    ownSize,
  };
}

/** What alarms will likely take off the cost of a second of one that runs, at an instant; before commitments. */
export function likelySavedPerSecond(idle: LikelyOff, card: RateCard, at: Instant): bigint {
  const share = idle.share[hourOfWeek(at)] ?? 0;
  return BigInt(Math.round(Number(savedPerSecond(card, idle, idle.hibernates)) * share));
}

type Kind = Readonly<{ cards: readonly DatedCard[]; life: readonly LifeSpan[]; idle: LikelyOff | null }>;
type Window = Readonly<{ from: Instant; to: Instant }>;

/** What alarms will likely save of a life over a window, in steps of whole hours or less; before commitments. */
export function likelySavedBySteps({ cards, life, idle }: Kind, window: Window, stepS: number): Map<Instant, bigint> {
  const saved = new Map<Instant, bigint>();
  if (!idle) return saved;
  for (const span of life) {
    if (span.state !== "running" && span.state !== "starting") continue;
    const [from, to] = [Math.max(window.from, span.from), Math.min(window.to, span.to)];
    for (let at = from; at < to; ) {
      const next = Math.min(to, (Math.floor(at / HOUR_S) + 1) * HOUR_S);
      const card = cardAt(cards, at);
      const share = idle.share[hourOfWeek(at)] ?? 0;
      if (card && share > 0) {
        const step = Math.floor(at / stepS) * stepS;
        const perSecond = savedPerSecond(card, idle, idle.hibernates);
        saved.set(step, (saved.get(step) ?? 0n) + BigInt(Math.round((next - at) * share)) * perSecond);
      }
      at = next;
    }
  }
  return saved;
}

/** The same over the whole window, of what commitments leave to be paid: what they pay for anyway saves nothing. */
export function likelySaved(
  kind: Kind,
  { window, cost, covered }: Readonly<{ window: Window; cost: bigint; covered: bigint }>,
): Amount {
  if (!kind.idle) return 0n as Amount;
  let sum = 0n;
  for (const saved of likelySavedBySteps(kind, window, HOUR_S).values()) sum += saved;
  const left = cost - covered;
  return (sum < left ? sum : left) as Amount;
}
