import type { Office, Sitting } from "./office";

export type State = "running" | "stopped" | "halted" | "hibernated" | "starting" | "stopping" | "gone";

/** A point of a unit's life: what it is from `at` on. Seconds since 1970, UTC. */
export type Change = { at: number; state: State; level: number };

/** A change that is under way; it ends at `at`. */
export type Pending = { at: number; state: State; level: number; type: string };

/** A machine, a group or a database service; a member is one machine of a group. */
export type Unit = {
  id: string;
  name: string;
  kind: "machine" | "group" | "service" | "member";
  account: string;
  provider: string;
  region: string;
  zone: string;
  size: string;
  os: "linux" | "windows";
  purchase: "firm" | "spot";
  tags: Record<string, string>;
  container: { name: string; tags: Record<string, string> } | null;
  habit: string;
  cores: number;
  memoryGib: number;
  diskGib: number;
  diskClass: string;
  addresses: number;
  levelMax: number;
  keepsDisks: boolean;
  target: number;
  pending: Pending | null;
  /** Oldest first; the last entry is the present. */
  life: Change[];
  /** Of a member: its group, by id. */
  memberOf?: string;
  /** Of a member: since when it answers nobody; it does not mend by itself. */
  unhealthySince?: number;
  /** Of a machine: when it was last taken back. */
  takenAt?: number;
  /** Of a machine of an office: who sat at it. */
  sittings?: Sitting[];
};

export type LooseThing = {
  id: string;
  name: string;
  kind: "disk" | "address";
  account: string;
  provider: string;
  region: string;
  gib: number;
  class: string;
  tags: Record<string, string>;
  since: number;
};

export type Event = {
  n: number;
  at: number;
  account: string;
  resource: string;
  type: string;
  state: State;
  level: number;
  note: string;
};

export type Outage = { account: string; until: number; kind: "silent" | "error" | "no capacity" };

/** Everything that is kept on disk between two runs of the stand-in. */
export type World = {
  seed: number;
  bornAt: number;
  /** Everything due up to here has happened. */
  doneUntil: number;
  clock: { now: number; rate: number };
  units: Unit[];
  loose: LooseThing[];
  events: Event[];
  /** Idempotency keys that were used, with the answer that was given. */
  answers: Record<string, { status: number; body: unknown }>;
  outages: Outage[];
  /** So many members of groups were ever made: no name comes twice. */
  membersMade?: number;
  office?: Office;
  /** Whether people turn their own machines on and off as time goes on. */
  owners?: boolean;
  /** Sign-ins at machines that were off, of late. */
  signIns?: { at: number; unit: string }[];
};

/** Something that happens by itself. */
export type Timer = { at: number; run: () => void };

export const DAY = 86_400;
export const HOUR = 3600;

export function present(unit: Unit): Change {
  return unit.life[unit.life.length - 1] as Change;
}

export function isOn(state: State): boolean {
  return state === "running" || state === "starting" || state === "stopping";
}

/** Whose terms of billing a unit has: a member is billed as a machine. */
export function billedAs(kind: Unit["kind"]): "machine" | "group" | "service" {
  return kind === "member" ? "machine" : kind;
}
