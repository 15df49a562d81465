/**
 * What Skerrywick Soundings has running, and the mistakes that are planted in it. A batch stands for
 * several like machines; `habit` is how people used them in the 28 days before the demo begins.
 */
export type Habit =
  | "always on"
  | "left on" // somebody started it once and forgot
  | "desk" // on by day, sometimes left on overnight
  | "class" // Saturdays, and on a few dates
  | "batch" // busy in bursts
  | "trial"; // started for a few hours or days

export type Batch = Readonly<{
  prefix: string;
  count: number;
  kind: "machine" | "group" | "service";
  account: string;
  region: string;
  /** Zones to spread over; all of the region's where missing. */
  zones?: readonly string[];
  size: string | readonly string[];
  os: "linux" | "windows";
  purchase?: "firm" | "spot";
  habit: Habit;
  tags: Readonly<Record<string, string>>;
  container?: Readonly<{ name: string; tags: Readonly<Record<string, string>> }>;
  owners?: readonly string[];
  diskGib: number;
  diskClass: "plain" | "fast";
  addresses?: number;
  level?: number;
  levelMax?: number;
  keepsDisks?: boolean;
  /** Single machines of the batch, from 1, with something of their own. */
  odd?: Readonly<Record<number, Readonly<{ tags?: Record<string, string>; state?: "halted"; runsForDays?: number }>>>;
}>;

const NORTH = ["m.skarv", "t.lomvi", "i.alke", "r.teist", "s.tjeld", "k.havelle"] as const;
const SOUTH = ["p.weka", "j.takahe", "a.korimako", "l.toroa"] as const;
const ANDES = ["c.chucao", "v.pilpilen", "e.queltehue"] as const;

export const BATCHES: readonly Batch[] = [
  {
    prefix: "desk-osl",
    count: 28,
    kind: "machine",
    account: "skerry-desks",
    region: "fjord-1",
    size: "lantern-8",
    os: "windows",
    habit: "desk",
    tags: { team: "draughting", stage: "prod" },
    container: { name: "drawing-office", tags: { site: "oslo" } },
    owners: NORTH,
    diskGib: 256,
    diskClass: "fast",
    odd: { 7: { runsForDays: 41 }, 19: { tags: { stage: "tset" } } },
  },
  {
    prefix: "desk-scl",
    count: 14,
    kind: "machine",
    account: "skerry-desks",
    region: "cordillera-1",
    size: ["lantern-8", "lantern-8", "beacon-16"],
    os: "windows",
    habit: "desk",
    tags: { team: "draughting", stage: "prod" },
    container: { name: "drawing-office", tags: { site: "santiago" } },
    owners: ANDES,
    diskGib: 256,
    diskClass: "fast",
  },
  {
    prefix: "desk-akl",
    count: 16,
    kind: "machine",
    account: "skerry-south",
    region: "tasman-2",
    size: "glint-8",
    os: "windows",
    habit: "desk",
    tags: { team: "draughting", stage: "prod" },
    container: { name: "drawing-office", tags: { site: "auckland" } },
    owners: SOUTH,
    diskGib: 256,
    diskClass: "fast",
  },
  {
    prefix: "sonar",
    count: 14,
    kind: "machine",
    account: "skerry-survey",
    region: "fjord-1",
    size: ["ketch-8", "sloop-4", "skiff-2"],
    os: "linux",
    habit: "trial",
    tags: { team: "sonar-lab", stage: "test" },
    owners: NORTH,
    diskGib: 128,
    diskClass: "plain",
    addresses: 1,
  },
  {
    prefix: "sonar-nz",
    count: 10,
    kind: "machine",
    account: "skerry-south",
    region: "tasman-2",
    size: ["heron-8", "reed-2"],
    os: "linux",
    habit: "trial",
    tags: { team: "sonar-lab", stage: "test" },
    owners: SOUTH,
    diskGib: 128,
    diskClass: "plain",
    addresses: 1,
    odd: { 3: { state: "halted" }, 8: { state: "halted" } },
  },
  {
    prefix: "tide",
    count: 12,
    kind: "machine",
    account: "skerry-survey",
    region: "fjord-1",
    size: ["ketch-8", "brig-16"],
    os: "linux",
    purchase: "spot",
    habit: "batch",
    tags: { team: "tides", stage: "prod", queue: "tiles" },
    diskGib: 64,
    diskClass: "plain",
  },
  {
    prefix: "tide-pool-north",
    count: 1,
    kind: "group",
    account: "skerry-survey",
    region: "fjord-1",
    size: "ketch-8",
    os: "linux",
    purchase: "spot",
    habit: "batch",
    tags: { team: "tides", stage: "prod", queue: "tiles" },
    diskGib: 64,
    diskClass: "plain",
    level: 6,
    levelMax: 24,
  },
  {
    prefix: "tide-pool-andes",
    count: 1,
    kind: "group",
    account: "skerry-survey",
    region: "cordillera-1",
    zones: ["cordillera-1a"],
    size: "ketch-8",
    os: "linux",
    purchase: "spot",
    habit: "batch",
    tags: { team: "tides", stage: "prod", queue: "tiles" },
    diskGib: 64,
    diskClass: "plain",
    level: 4,
    levelMax: 16,
  },
  {
    prefix: "viewer-web",
    count: 10,
    kind: "machine",
    account: "skerry-south",
    region: "tasman-2",
    size: "heron-4",
    os: "linux",
    habit: "always on",
    tags: { team: "viewer", stage: "prod" },
    diskGib: 32,
    diskClass: "plain",
    addresses: 1,
  },
  {
    prefix: "viewer-tiles-north",
    count: 1,
    kind: "group",
    account: "skerry-survey",
    region: "fjord-1",
    size: "sloop-4",
    os: "linux",
    habit: "always on",
    tags: { team: "viewer", stage: "prod" },
    diskGib: 32,
    diskClass: "plain",
    level: 6,
    levelMax: 20,
  },
  {
    prefix: "viewer-tiles-south",
    count: 1,
    kind: "group",
    account: "skerry-south",
    region: "tasman-2",
    size: "heron-4",
    os: "linux",
    habit: "always on",
    tags: { team: "viewer", stage: "prod" },
    diskGib: 32,
    diskClass: "plain",
    level: 4,
    levelMax: 16,
  },
  {
    prefix: "replay",
    count: 16,
    kind: "machine",
    account: "skerry-survey",
    region: "cordillera-1",
    size: ["sloop-4", "ketch-8", "brig-16"],
    os: "linux",
    purchase: "spot",
    habit: "batch",
    tags: { team: "replay", stage: "test" },
    diskGib: 96,
    diskClass: "plain",
  },
  {
    prefix: "replay-pool-kept",
    count: 1,
    kind: "group",
    account: "skerry-survey",
    region: "cordillera-1",
    size: "brig-16",
    os: "linux",
    purchase: "spot",
    habit: "batch",
    tags: { team: "replay", stage: "test" },
    diskGib: 128,
    diskClass: "plain",
    level: 5,
    levelMax: 12,
    keepsDisks: true,
  },
  {
    prefix: "replay-pool-north",
    count: 1,
    kind: "group",
    account: "skerry-survey",
    region: "fjord-1",
    size: "ketch-8",
    os: "linux",
    habit: "batch",
    tags: { team: "replay", stage: "test" },
    diskGib: 96,
    diskClass: "plain",
    level: 3,
    levelMax: 12,
  },
  {
    prefix: "archive-index",
    count: 2,
    kind: "service",
    account: "skerry-survey",
    region: "fjord-1",
    size: "depot",
    os: "linux",
    habit: "always on",
    tags: { team: "archive", stage: "prod" },
    diskGib: 2048,
    diskClass: "fast",
    level: 6,
    levelMax: 24,
  },
  {
    prefix: "archive-south",
    count: 1,
    kind: "service",
    account: "skerry-south",
    region: "tasman-2",
    size: "silo",
    os: "linux",
    habit: "always on",
    tags: { team: "archive", stage: "prod" },
    diskGib: 1024,
    diskClass: "fast",
    level: 6,
    levelMax: 16,
  },
  {
    prefix: "archive-loader",
    count: 6,
    kind: "machine",
    account: "skerry-survey",
    region: "fjord-1",
    size: "ketch-8",
    os: "linux",
    habit: "always on",
    tags: { team: "archive", stage: "prod" },
    diskGib: 512,
    diskClass: "plain",
  },
  {
    prefix: "class",
    count: 22,
    kind: "machine",
    account: "skerry-learn",
    region: "terai-1",
    size: ["heron-4", "reed-2"],
    os: "windows",
    habit: "class",
    tags: { team: "training", hours: "classroom" },
    diskGib: 96,
    diskClass: "plain",
    odd: { 11: { tags: { hours: "clasroom" } } },
  },
  {
    prefix: "harbour-north",
    count: 6,
    kind: "machine",
    account: "skerry-survey",
    region: "fjord-1",
    size: "sloop-4",
    os: "linux",
    habit: "always on",
    tags: { team: "harbour", stage: "prod", "umbrik-guard": "pilot-service" },
    diskGib: 64,
    diskClass: "fast",
    addresses: 1,
  },
  {
    prefix: "harbour-south",
    count: 4,
    kind: "machine",
    account: "skerry-south",
    region: "tasman-2",
    size: "heron-4",
    os: "linux",
    habit: "always on",
    tags: { team: "harbour", stage: "prod", "umbrik-guard": "pilot-service" },
    diskGib: 64,
    diskClass: "fast",
    addresses: 1,
  },
  {
    prefix: "build",
    count: 14,
    kind: "machine",
    account: "skerry-survey",
    region: "fjord-1",
    size: ["ketch-8", "sloop-4"],
    os: "linux",
    habit: "left on",
    tags: { team: "platform", stage: "test" },
    owners: NORTH,
    diskGib: 128,
    diskClass: "plain",
    odd: { 4: { tags: { team: "viewer" } } },
  },
  {
    prefix: "loose",
    count: 8,
    kind: "machine",
    account: "skerry-south",
    region: "tasman-2",
    size: ["heron-4", "heron-8"],
    os: "linux",
    habit: "left on",
    tags: {},
    diskGib: 64,
    diskClass: "plain",
  },
];

/** Disks and addresses whose machine is gone. */
export const ORPHAN_DISKS: readonly Readonly<{
  account: string;
  region: string;
  gib: number;
  class: "plain" | "fast";
  tags: Record<string, string>;
}>[] = [
  { account: "skerry-survey", region: "fjord-1", gib: 512, class: "plain", tags: { team: "sonar-lab" } },
  { account: "skerry-survey", region: "fjord-1", gib: 128, class: "plain", tags: { team: "sonar-lab" } },
  { account: "skerry-survey", region: "cordillera-1", gib: 128, class: "plain", tags: { team: "replay" } },
  { account: "skerry-survey", region: "cordillera-1", gib: 128, class: "plain", tags: { team: "replay" } },
  { account: "skerry-desks", region: "fjord-1", gib: 256, class: "fast", tags: { team: "draughting" } },
  { account: "skerry-desks", region: "cordillera-1", gib: 256, class: "fast", tags: {} },
  { account: "skerry-south", region: "tasman-2", gib: 1024, class: "plain", tags: {} },
  { account: "skerry-south", region: "tasman-2", gib: 64, class: "fast", tags: { team: "viewer" } },
];

export const ORPHAN_ADDRESSES: readonly Readonly<{ account: string; region: string }>[] = [
  { account: "skerry-survey", region: "fjord-1" },
  { account: "skerry-survey", region: "fjord-1" },
  { account: "skerry-survey", region: "cordillera-1" },
  { account: "skerry-south", region: "tasman-2" },
  { account: "skerry-learn", region: "terai-1" },
];

/** Capacity that is paid for whatever happens. */
export const COMMITMENTS = [
  {
    account: "skerry-survey",
    region: "fjord-1",
    size: "ketch-8",
    units: 6,
    feePerHour: "1.314",
    from: "2027-01-01",
    to: "2027-12-31",
  },
] as const;
