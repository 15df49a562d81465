import { randomUUID } from "node:crypto";
import {
  gapsToKeep,
  ILL_S,
  type Keeping,
  type KeepStep,
  type Mix,
  type MixGap,
  type MixMachine,
  type MixPool,
  nextStep,
  orderHazard,
  poolPlace,
  REPLACED_A_DAY,
  stepReasonWords,
} from "@/core/mix";
import { capabilitiesFor, type Resource } from "@/core/plan";
import type { PriceBook } from "@/core/pricing";
import { type Instant, MINUTE_S } from "@/core/time";
import {
  addGap,
  endMixMember,
  type GapCause,
  type MemberNews,
  type MixMember,
  type MixOrder,
  orderNeverCame,
  recordMixOrder,
  reopenGaps,
  setGap,
  whileLeading,
} from "@/store";
import type { Services } from "../admin";
import type { MixedGroup } from "./mixed-groups";
import { pricedMix, saidOf } from "./priced";
import { isBusy, type MixReconciling, mayGoOn } from "./reconciling";
import { send } from "./send-orders";

/** What was ordered and is not listed by then has gone. */
const LISTED_WITHIN_S = 5 * MINUTE_S;
/** One group is not kept for longer than this in one round. */
const STEPS_MAX = 500;

type Given = MixedGroup &
  Readonly<{
    members: readonly MixMember[];
    news: ReadonlyMap<string, MemberNews>;
    /** Members that have been listed at some time. */
    known: ReadonlySet<string>;
    /** Since when members have been unhealthy. */
    ill: ReadonlyMap<string, Instant>;
    gaps: readonly MixGap[];
    refusals: ReadonlyMap<string, Instant>;
    book: PriceBook;
    replaced: number;
    /** Something was asked for, and what came of it is not known: nothing else is until then. */
    isUnsure: boolean;
  }>;

/** One group over one round. */
export class GroupReconciler {
  private machines: MixMachine[] = [];
  private gaps: MixGap[];
  private readonly refused: Map<string, Instant>;
  /** Its pools at the prices of now. */
  private readonly priced: Mix["pools"];
  /** How often something was asked for and accepted. */
  private asked = 0;

  constructor(
    private readonly services: Services,
    private readonly keeping: MixReconciling,
    private readonly given: Given,
  ) {
    this.gaps = [...given.gaps];
    this.refused = new Map(given.refusals);
    const { mix, group, book } = given;
    this.priced = pricedMix(mix, group, { book, capabilities: keeping.snapshot.capabilities }).pools;
  }

  /** Returns how often something was asked for and accepted. */
  async keep(): Promise<number> {
    const { closed, snapshot } = this.keeping;
    const { group } = this.given;
    // Of an account that was not read nothing is known to have gone.
    if (closed.has(group.fields.account ?? "")) return 0;
    const byId = new Map(snapshot.resources.map((one) => [one.id, one]));
    await this.look(byId);
    const wanted = this.keeping.wanted.get(group.id) ?? null;
    if (wanted === null || this.given.isUnsure) return 0;
    for (let steps = 0; steps < STEPS_MAX; steps++) {
      await this.setGaps(wanted);
      const step = nextStep(this.at(wanted));
      if (!step || !(await mayGoOn(this.services, this.keeping))) break;
      if (!(await this.take(step))) break;
    }
    return this.asked;
  }

  /** What is there, and what has gone since: each that went leaves a gap, if it was not of the firm part. */
  private async look(byId: ReadonlyMap<string, Resource>): Promise<void> {
    const { now } = this.keeping;
    const { members, news, ill, mix, plan, replaced } = this.given;
    let mayReplace = (plan.unhealthy ?? "replace") === "replace" ? Math.max(0, REPLACED_A_DAY - replaced) : 0;
    for (const member of members) {
      const resource = byId.get(member.resourceId);
      const told = news.get(member.resourceId);
      const isThere = resource !== undefined && resource.state !== "gone";
      if (!isThere && resource === undefined && now - member.orderedAt < LISTED_WITHIN_S && told?.evictedAt == null) {
        this.machines.push(machineOf(member, { state: "coming", isBusy: false, isIll: false }));
        continue;
      }
      if (!isThere && resource === undefined && told?.evictedAt == null && !this.given.known.has(member.resourceId)) {
        await this.neverCame(member);
        continue;
      }
      if (!isThere) {
        await this.gone(member, told);
        continue;
      }
      if (resource.state === "stopped" || resource.state === "stopping") {
        await this.down(member, told);
        continue;
      }
      const upAt = resource.since + (mix.setupMinutes ?? 0) * MINUTE_S;
      const illSince = ill.get(member.resourceId);
      const isIll = illSince !== undefined && now - illSince >= ILL_S && mayReplace > 0;
      if (isIll) mayReplace--;
      const state = resource.state === "running" && upAt <= now ? "up" : "coming";
      this.machines.push(machineOf(member, { state, isBusy: isBusy(resource), isIll }));
    }
  }

  private async gone(member: MixMember, told: MemberNews | undefined): Promise<void> {
    const { now } = this.keeping;
    const since = told?.evictedAt ?? now;
    const cause: GapCause = told?.evictedAt == null ? "gone" : "evicted";
    await this.inLead(async (tx) => {
      await endMixMember(tx, member.resourceId, { at: since, cause });
      if (member.part !== "firm") await this.open(tx, { cause, since, units: member.units, member, told, diskId: null });
    });
  }

  /** It was accepted, and nothing of it was ever seen: what it was to fill is as old as it was, and its pool is one that has none now. */
  private async neverCame(member: MixMember): Promise<void> {
    const { now } = this.keeping;
    const { resourceId, pool, units, part, orderedAt } = member;
    this.refused.set(pool ?? FULL_PRICE, now);
    await this.inLead(async (tx) => {
      await endMixMember(tx, resourceId, { at: now, cause: "never came" });
      await orderNeverCame(tx, resourceId);
      const reopened = await reopenGaps(tx, resourceId, units);
      const old = new Map(this.gaps.map((gap) => [gap.id, gap.units]));
      const left = units - reopened.reduce((sum, gap) => sum + gap.units - (old.get(gap.id) ?? 0), 0);
      const anew = new Set(reopened.map(({ id }) => id));
      this.gaps = [...this.gaps.filter(({ id }) => !anew.has(id)), ...reopened].sort((a, b) => a.since - b.since || a.id - b.id);
      if (left > 0 && part !== "firm")
        await this.open(tx, { cause: "gone", since: orderedAt, units: left, member, told: undefined, diskId: null });
    });
  }

  /** Its disks are kept: it may come back in its own pool alone. */
  private async down(member: MixMember, told: MemberNews | undefined): Promise<void> {
    this.machines.push(machineOf(member, { state: "down", isBusy: false, isIll: false }));
    const since = told?.evictedAt ?? this.keeping.now;
    const isKnown = this.gaps.some(({ disk }) => disk === member.resourceId);
    // A gap that something stands in for is closed, and its disk waits for the way back.
    if (isKnown || since <= this.keeping.before) return;
    await this.inLead((tx) =>
      this.open(tx, { cause: "evicted", since, units: member.units, member, told, diskId: member.resourceId }),
    );
  }

  private at(wanted: number): Keeping {
    const { now, before } = this.keeping;
    const { mix } = this.given;
    return {
      now,
      before,
      wanted,
      ...saidOf(mix),
      pools: this.pools(),
      machines: this.machines,
      gaps: this.gaps,
      firmRefusedAt: this.refused.get(FULL_PRICE) ?? null,
    };
  }

  private pools(): MixPool[] {
    return this.priced.map((pool) => ({
      name: pool.name,
      units: pool.unitsPerMachine,
      price: pool.price ?? 0,
      cap: pool.cap ?? null,
      hazard: orderHazard(pool),
      // What names no size and zone can be asked for nowhere.
      refusedAt: poolPlace(pool.name) === null ? this.keeping.now : (this.refused.get(pool.name) ?? null),
    }));
  }

  private async setGaps(wanted: number): Promise<void> {
    const { now } = this.keeping;
    const { open, shrink } = gapsToKeep(this.at(wanted));
    if (open === 0 && shrink.length === 0) return;
    await this.inLead(async (tx) => {
      for (const { id, units } of shrink) {
        await setGap(tx, id, { units, at: now, filledBy: null });
        this.shrink(id, units);
      }
      if (open > 0)
        await this.open(tx, { cause: "wanted", since: now, units: open, member: null, told: undefined, diskId: null });
    });
  }

  private shrink(id: number, units: number): void {
    this.gaps = this.gaps.flatMap((gap) => (gap.id !== id ? [gap] : units > 0 ? [{ ...gap, units }] : []));
  }

  private async open(tx: Parameters<typeof addGap>[0], gap: Opening): Promise<void> {
    const { group, plan } = this.given;
    const { cause, since, units, member, told, diskId } = gap;
    const id = await addGap(tx, {
      groupId: group.id,
      fleet: plan.name,
      cause,
      memberId: member?.resourceId ?? null,
      pool: member?.pool ?? null,
      noticedAt: told?.noticedAt ?? null,
      since,
      units,
      diskId,
    });
    this.gaps.push({ id, units, since, disk: diskId });
  }

  private inLead<T>(work: (tx: Parameters<typeof addGap>[0]) => Promise<T>): Promise<T> {
    return whileLeading(this.services.pool, this.keeping.lead, work);
  }

  /** Asks for one step. Returns false where the group is to be left for the next round. */
  private async take(step: KeepStep): Promise<boolean> {
    const order = this.orderFor(step);
    if (!order) return false;
    await this.inLead((tx) => recordMixOrder(tx, order));
    const answer = await send(this.services, this.keeping, order);
    if (!answer) return false;
    if (answer.kind !== "accepted") {
      // What refuses to give one back is asked again by the next round; what has none, or sells none, leaves the others.
      this.refused.set(order.pool ?? FULL_PRICE, this.keeping.now);
      return order.kind !== "remove";
    }
    this.asked++;
    await this.noteTaken(step, answer.memberId, order);
    return true;
  }

  private async noteTaken(step: KeepStep, id: string, order: MixOrder): Promise<void> {
    if (step.kind === "remove") {
      this.machines = this.machines.filter((one) => one.id !== step.id);
      const member = this.given.members.find(({ resourceId }) => resourceId === step.id);
      const cause = REPLACED_CAUSES.find((one) => one === step.reason.code);
      if (cause && member && member.part !== "firm")
        await this.inLead((tx) =>
          this.open(tx, { cause, since: this.keeping.now, units: member.units, member, told: undefined, diskId: null }),
        );
      return;
    }
    let left = order.units;
    for (const gapId of order.gaps) {
      const gap = this.gaps.find((one) => one.id === gapId);
      if (!gap) continue;
      const taken = Math.min(left, gap.units);
      this.shrink(gapId, gap.units - taken);
      left -= taken;
    }
    if (step.kind === "restart") {
      this.machines = this.machines.map((one) => (one.id === id ? { ...one, state: "coming" as const } : one));
      return;
    }
    const { part, pool, units } = step;
    this.machines.push({ id, part, pool, units, state: "coming", orderedAt: this.keeping.now, isBusy: false, isIll: false });
  }

  private orderFor(step: KeepStep): MixOrder | null {
    const { now, roundId } = this.keeping;
    const { group, plan, mix } = this.given;
    const machine = step.kind === "order" ? null : this.machines.find(({ id }) => id === step.id);
    if (step.kind !== "order" && !machine) return null;
    const pool = step.kind === "order" ? step.pool : (machine?.pool ?? null);
    const place = pool === null ? { size: group.fields.size ?? "", zone: this.firmZone() } : poolPlace(pool);
    if (!place) return null;
    return {
      key: randomUUID(),
      roundId,
      fleet: plan.name,
      groupId: group.id,
      account: group.fields.account ?? "",
      kind: step.kind,
      part: step.kind === "order" ? step.part : (machine?.part ?? "spot"),
      pool,
      ...place,
      units: step.kind === "order" ? step.units : (machine?.units ?? 1),
      keepsDisks: mix.eviction === "keep disks",
      gaps: step.kind === "order" ? step.gaps : step.kind === "restart" && step.gap !== null ? [step.gap] : [],
      memberId: step.kind === "order" ? null : step.id,
      cause: step.reason.code,
      why: stepReasonWords(step.reason),
      recordedAt: now,
    };
  }

  /** Firm machines are spread over the zones of the region: the next goes where fewest are. */
  private firmZone(): string {
    const { group } = this.given;
    const region = capabilitiesFor(group, this.keeping.snapshot.capabilities)?.regions.find(
      ({ name }) => name === group.fields.region,
    );
    const zones = region?.zones ?? [group.fields.zone ?? ""];
    const firm = this.machines.filter(({ part }) => part !== "spot").length;
    return zones[firm % zones.length] as string;
  }
}

/** Why a machine is given back that another takes the place of. */
const REPLACED_CAUSES = ["unhealthy", "over its cap"] as const;

/** The name under which refusals at full price are noted. */
const FULL_PRICE = "";

type Opening = Readonly<{
  cause: GapCause;
  since: Instant;
  units: number;
  member: MixMember | null;
  told: MemberNews | undefined;
  diskId: string | null;
}>;

function machineOf(
  { resourceId, part, pool, units, orderedAt }: MixMember,
  more: Pick<MixMachine, "state" | "isBusy" | "isIll">,
): MixMachine {
  return { id: resourceId, part, pool, units, orderedAt, ...more };
}
