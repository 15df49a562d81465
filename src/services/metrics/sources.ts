import { randomBytes } from "node:crypto";
import { identityOf, matchIdentity } from "@/core/samples";
import {
  addSource,
  changeSource,
  hostCounts,
  hostList,
  inTransaction,
  type MetricHost,
  type MetricSource,
  maybeSource,
  removeSource,
  type SourceSetting,
  saveHosts,
  setSourceKey,
  setSourcePaused,
  signal,
  sourceList,
  strangerList,
} from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, RefusedError, type Services } from "../admin";
import { usualLatenessNow } from "./lateness";
import { machineNames } from "./machine-names";
import { type Stranger, withNear } from "./near-hosts";
import { hashOfKey } from "./push";
import { forgetTold } from "./take-points";

/** So many hosts of a source are shown; how many there are is said. */
const SHOWN = 100;

/** A source with its hosts: how many have a machine, and those that have none. */
export type SourceView = MetricSource &
  Readonly<{
    matched: number;
    unmatched: number;
    strangers: readonly Stranger[];
    /** How late its samples usually come, in seconds; null where none came for a day. */
    latenessS: number | null;
  }>;

export async function metricSources(services: Services, actor: Actor): Promise<SourceView[]> {
  authorise(actor, "look", ESTATE);
  const { now } = await services.clock.read();
  const [sources, counts, lateness] = await Promise.all([
    sourceList(services.pool),
    hostCounts(services.pool),
    usualLatenessNow(services.pool, now, null),
  ]);
  return Promise.all(
    sources.map(async (source) => {
      const { matched, unmatched } = counts.get(source.id) ?? { matched: 0, unmatched: 0 };
      const hosts = unmatched > 0 ? await strangerList(services.pool, source.id, SHOWN) : [];
      return {
        ...source,
        matched,
        unmatched,
        latenessS: lateness.ofSource(source.id),
        strangers: await withNear(services.pool, source.naming, hosts),
      };
    }),
  );
}

/** Sets a source up. The key of one that pushes is told this once; only its hash is kept. */
export async function makeSource(
  services: Services,
  actor: Actor,
  setting: SourceSetting,
): Promise<{ id: number; key: string | null }> {
  authorise(actor, "set up", ESTATE);
  const checked = checkedSetting(setting);
  const key = checked.url === null ? newKey() : null;
  const { now } = await services.clock.read();
  const id = await addSource(services.pool, {
    ...checked,
    keyHash: key === null ? null : hashOfKey(key),
    person: actor.name,
    at: now,
  });
  if (id === null) throw nameTaken(checked.name);
  await signal(services.pool, "sources");
  return { id, key };
}

/** Changes what is said of a source, and finds the machines of all it has named anew. */
export async function editSource(services: Services, actor: Actor, id: number, setting: SourceSetting): Promise<void> {
  authorise(actor, "set up", ESTATE);
  const { pool } = services;
  const source = await sourceNow(services, id);
  const checked = checkedSetting(setting);
  if ((checked.url === null) !== (source.kind === "push"))
    throw new RefusedError("invalid", "A source that pushes stays one that pushes; make another.");
  if (!(await changeSource(pool, id, checked))) throw nameTaken(checked.name);
  forgetTold(pool, id);
  if (source.kind === "push") await saveHosts(pool, id, await hostsUnder(services, { ...source, ...checked }));
  await signal(pool, "sources");
}

/** What a rule would make of the hosts that a source has named: how many it finds, and those it does not. */
export async function tryNaming(
  services: Services,
  actor: Actor,
  { id, naming }: { id: number; naming: MetricSource["naming"] },
): Promise<{ matched: number; unmatched: number; strangers: readonly Stranger[]; attributes: readonly string[] }> {
  authorise(actor, "set up", ESTATE);
  const hosts = await hostsUnder(services, { ...(await sourceNow(services, id)), naming });
  const strangers = hosts.filter(({ resourceId }) => resourceId === null);
  return {
    matched: hosts.length - strangers.length,
    unmatched: strangers.length,
    strangers: await withNear(services.pool, naming, strangers.slice(0, SHOWN)),
    attributes: [...new Set(hosts.flatMap(({ attributes }) => Object.keys(attributes)))].sort(),
  };
}

/** The hosts of a source as its rule names them. One that the rule names by nothing keeps the name it had. */
async function hostsUnder({ pool }: Services, { id, naming }: Pick<MetricSource, "id" | "naming">): Promise<MetricHost[]> {
  const index = await machineNames(pool, naming);
  return (await hostList(pool, id)).map((host) => {
    const identity = identityOf(naming, host.attributes);
    if (identity === null) return { ...host, resourceId: null, why: `no attribute ${naming.attribute}` };
    const { id: resourceId, why } = matchIdentity(identity, index);
    return { ...host, resourceId, why };
  });
}

export async function pauseSource(services: Services, actor: Actor, id: number, isPaused: boolean): Promise<void> {
  authorise(actor, "set up", ESTATE);
  if (!(await setSourcePaused(services.pool, id, isPaused))) throw noSource(id);
  await signal(services.pool, "sources");
}

/** Makes a new key for a source that pushes; the old one opens nothing from then on. */
export async function renewKey(services: Services, actor: Actor, id: number): Promise<{ key: string }> {
  authorise(actor, "set up", ESTATE);
  const key = newKey();
  if (!(await setSourceKey(services.pool, id, hashOfKey(key)))) throw noSource(id);
  return { key };
}

/** Removes a source and revokes its key; its samples are kept, or dropped with it. */
export async function dropSource(
  services: Services,
  actor: Actor,
  { id, keepsSamples }: { id: number; keepsSamples: boolean },
): Promise<void> {
  authorise(actor, "set up", ESTATE);
  const { now } = await services.clock.read();
  const isGone = await inTransaction(services.pool, (tx) => removeSource(tx, id, { at: now, keepsSamples }));
  if (!isGone) throw noSource(id);
  forgetTold(services.pool, id);
  await signal(services.pool, "sources");
  await signal(services.pool, "metrics");
}

async function sourceNow({ pool }: Services, id: number): Promise<MetricSource> {
  const source = await maybeSource(pool, id);
  if (!source) throw noSource(id);
  return source;
}

function newKey(): string {
  return `umk_${randomBytes(32).toString("base64url")}`;
}

function noSource(id: number): RefusedError {
  return new RefusedError("not_found", `There is no source ${id}.`);
}

function nameTaken(name: string): RefusedError {
  return new RefusedError("name_taken", `There is a source ${name} already.`, [{ path: "name", message: "that name is taken" }]);
}

/** Labels of letters, digits, hyphens and underscores, at most 253 in all; a dot before or behind is no part of it. */
const DOMAIN = /^(?=.{0,255}$)(\.?[\w-]+(\.[\w-]+)*\.?)?$/;
const STEPS = [10, 15, 30, 60, 120, 300, 600];

/** The setting as it is kept. Throws a RefusedError that names the fields at fault. */
function checkedSetting({ name, url, queries, naming, stepS }: SourceSetting): SourceSetting {
  const issues: FieldIssue[] = [];
  const issue = (path: string, message: string) => issues.push({ path, message });
  if (name.trim() === "") issue("name", "a name is needed");
  if (name.trim().length > 100) issue("name", "at most 100 characters");
  if (!STEPS.includes(stepS)) issue("stepS", `expected one of ${STEPS.join(", ")} s`);
  if (url === null) {
    if (naming.attribute.trim() === "") issue("naming.attribute", "which attribute names the machine, such as host.name");
  } else {
    const address = URL.canParse(url.trim()) ? new URL(url.trim()) : null;
    if (!address || !["http:", "https:"].includes(address.protocol))
      issue("url", "expected an address such as http://prometheus.example:9090");
    else if (address.username !== "") issue("url", "a name and a password do not belong in the address");
    if (queries.length === 0) issue("queries", "say at least one metric");
    if (queries.length > 100) issue("queries", "at most 100 metrics");
    queries.forEach((query, i) => {
      if (query.metric.trim() === "" || query.metric.length > 200) issue(`queries.${i}.metric`, "a name of 1 to 200 characters");
      if (query.query.trim() === "" || query.query.length > 4000) issue(`queries.${i}.query`, "PromQL of 1 to 4000 characters");
      if (query.label.trim() === "") issue(`queries.${i}.label`, "which label names the machine, such as instance");
      if (queries.findIndex(({ metric }) => metric.trim() === query.metric.trim()) < i)
        issue(`queries.${i}.metric`, "that metric is asked for already");
    });
  }
  if (naming.names === "tag" && (naming.tag ?? "").trim() === "") issue("naming.tag", "which tag holds the name");
  if (!DOMAIN.test((naming.domain ?? "").trim())) issue("naming.domain", "a domain such as office.example, or nothing");
  const [first] = issues;
  if (first) throw new RefusedError("invalid", first.message, issues);
  return {
    name: name.trim(),
    url: url === null ? null : url.trim().replace(/\/+$/, ""),
    queries: queries.map(({ metric, query, label }) => ({ metric: metric.trim(), query: query.trim(), label: label.trim() })),
    naming: {
      attribute: naming.attribute.trim() || "label",
      names: naming.names,
      tag: naming.names === "tag" ? (naming.tag ?? "").trim() : null,
      account: naming.account || null,
      domain: (naming.domain ?? "").trim().replace(/^\.+|\.+$/g, "") || null,
    },
    stepS,
  };
}
