import { ACCOUNTS } from "../../demo/accounts";
import type { ProviderData } from "../../demo/providers";
import { isEligible } from "../world/prices";
import { isOn, type LooseThing, present, type Unit } from "../world/types";

/** What a provider says of itself. */
export function description(provider: ProviderData): unknown {
  const billing = (kind: "machine" | "group" | "service") => ({
    granularityS: provider.granularityS[kind],
    minimumS: provider.minimumS[kind],
  });
  return {
    provider: provider.name,
    currency: provider.currency,
    billing: { machine: billing("machine"), group: billing("group"), service: billing("service") },
    billedWhenHalted: provider.billedWhenHalted,
    hibernate: provider.hibernate,
    spot: {
      noticeS: provider.noticeS,
      ineligibleSizes: provider.sizes.filter((size) => !isEligible(provider, size)).map(({ name }) => name),
    },
    usualS: provider.usualS,
    regions: provider.regions,
  };
}

function accountTags(account: string): Readonly<Record<string, string>> {
  return ACCOUNTS.find(({ name }) => name === account)?.tags ?? {};
}

/** A unit as the listing shows it. */
export function unitView(unit: Unit): unknown {
  const { at, state, level } = present(unit);
  return {
    id: unit.id,
    name: unit.name,
    kind: unit.kind,
    account: unit.account,
    region: unit.region,
    zone: unit.zone,
    size: unit.size,
    os: unit.os,
    purchase: unit.purchase,
    tags: unit.tags,
    container: unit.container,
    accountTags: accountTags(unit.account),
    state,
    level,
    target: unit.kind === "machine" || unit.kind === "member" ? level : unit.target,
    levelMax: unit.levelMax,
    since: at,
    runSince: runSince(unit),
    cores: unit.cores,
    memoryGib: unit.memoryGib,
    diskGib: unit.diskGib,
    diskClass: unit.diskClass,
    addresses: unit.addresses,
    attachedTo: unit.memberOf ?? null,
  };
}

function runSince(unit: Unit): number | null {
  let since: number | null = null;
  for (let i = unit.life.length - 1; i >= 0; i--) {
    const piece = unit.life[i];
    if (!piece || !isOn(piece.state)) break;
    since = piece.at;
  }
  return since;
}

/** A disk or an address that belongs to nothing. */
export function looseView(thing: LooseThing): unknown {
  return {
    id: thing.id,
    name: thing.name,
    kind: thing.kind,
    account: thing.account,
    region: thing.region,
    zone: "",
    size: "",
    os: "",
    purchase: "",
    tags: thing.tags,
    container: null,
    accountTags: accountTags(thing.account),
    state: "stopped",
    level: 0,
    target: 0,
    levelMax: 0,
    since: thing.since,
    runSince: null,
    cores: 0,
    memoryGib: 0,
    diskGib: thing.gib,
    diskClass: thing.class,
    addresses: thing.kind === "address" ? 1 : 0,
    attachedTo: null,
  };
}
