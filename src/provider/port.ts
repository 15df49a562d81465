import { AppError } from "@/core/error";
import type { Level } from "@/core/hours";
import type { Capabilities, ListedResource, SetAside } from "@/core/plan";
import type { Price } from "@/core/pricing";
import type { Verb } from "@/core/rounds";
import type { Instant } from "@/core/time";

/** A change of state from a provider's feed. `n` grows; it is where to go on reading. */
export type FeedEvent = Readonly<{
  n: number;
  resourceId: string;
  at: Instant;
  type: string;
  state: ListedResource["state"];
  level: Level;
  note: string;
}>;

/** One value of a metric over the step that ends at `at`. */
export type LatestSample = Readonly<{ resourceId: string; metric: string; at: Instant; stepS: number; value: number }>;

export type MetricSeries = Readonly<{ resourceId: string; samples: readonly (number | null)[] }>;

/** A commitment as a provider lists it; days are `YYYY-MM-DD`, the last one included. */
export type ProviderCommitment = Readonly<{
  region: string;
  size: string;
  units: number;
  feePerHour: string;
  from: string;
  to: string;
}>;

/** One metered line, as the provider gives it. Decimals are text. */
export type MeterLine = Readonly<{
  id: string;
  /** As the provider calls it, as in all bills. */
  resourceId: string;
  region: string;
  item: string;
  from: Instant;
  to: Instant;
  quantity: string;
  unit: string;
  rate: string;
  cost: string;
}>;

/** `clock`: what time it was by the provider's own clock when it answered; null where it does not say. */
export type Listed = Readonly<{
  resources: readonly ListedResource[];
  setAside: readonly SetAside[];
  clock: Instant | null;
}>;

/** A page of a feed; `last` is where to go on. */
export type EventPage = Readonly<{
  events: readonly FeedEvent[];
  setAside: readonly SetAside[];
  last: number;
  isMore: boolean;
}>;

/** What came of asking for an action. `retry`: it may go through later. `refused`: asking again is no use. */
export type ActAnswer =
  | Readonly<{ kind: "accepted" }>
  | Readonly<{ kind: "retry"; why: string }>
  | Readonly<{ kind: "refused"; why: string }>;

export type ActRequest = Readonly<{
  resourceId: string;
  verb: Verb;
  level: Level /** Sending the same key twice does the thing once. */;
  key: string;
}>;

/** A machine for a group: of which size, where and at which price. */
export type MemberRequest = Readonly<{
  groupId: string;
  size: string;
  zone: string;
  purchase: "firm" | "spot";
  keepsDisks: boolean;
  key: string;
}>;

/** As an action's answer, with whom it brought. `full`: there is none to be had there now. */
export type MemberAnswer =
  | Readonly<{ kind: "accepted"; memberId: string }>
  | Readonly<{ kind: "full" | "retry" | "refused"; why: string }>;

/** What there is, and what the provider says of itself. Every read of every part throws a ProviderError when it cannot be completed. */
export type Listing = Readonly<{
  describe: () => Promise<Capabilities>;
  /** Everything the account has; complete or an error, never a part. What cannot be understood is named apart. */
  listResources: () => Promise<Listed>;
}>;

/** Starting, stopping and resizing. */
export type Power = Readonly<{ act: (request: ActRequest) => Promise<ActAnswer> }>;

/** Changes of state as they happened, one after another. */
export type Feed = Readonly<{
  /** Up to a page of events after `n`, and whether there are more. */
  eventsAfter: (n: number) => Promise<EventPage>;
}>;

export type PriceList = Readonly<{
  /** The prices as of an instant, or now, and since when they hold. */
  prices: (at?: Instant) => Promise<Readonly<{ from: Instant; prices: readonly Price[] }>>;
}>;

export type CommitmentList = Readonly<{
  /** Capacity that the account has paid for. */
  commitments: () => Promise<readonly ProviderCommitment[]>;
}>;

export type Meter = Readonly<{
  /** The meter's lines of one UTC day; `day` is any instant of it. */
  usageDay: (day: Instant) => Promise<readonly MeterLine[]>;
}>;

export type Metrics = Readonly<{
  /** One UTC day of a metric; `day` is any instant of it. */
  metricDay: (metric: string, day: Instant) => Promise<Readonly<{ stepS: number; series: readonly MetricSeries[] }>>;
  /** What came of a metric after an instant, at most a day of it; only what is a number. */
  metricAfter: (metric: string, after: Instant) => Promise<readonly LatestSample[]>;
}>;

/** Single machines of a group. */
export type Members = Readonly<{
  /** Asks for a machine for a group. */
  orderMember: (request: MemberRequest) => Promise<MemberAnswer>;
  /** Gives a machine of a group back, or starts one whose disks were kept. */
  moveMember: (
    request: Readonly<{ memberId: string; move: "remove" | "start"; key: string }>,
  ) => Promise<ActAnswer | Readonly<{ kind: "full"; why: string }>>;
}>;

/**
 * One account at one provider, made of parts. A kind of provider has a listing and power, and of the others those that it has:
 * what needs one that is missing, or that fails, stands still, and nothing else.
 */
export type ProviderParts = Readonly<{
  listing: Listing;
  power: Power;
  feed: Feed | null;
  prices: PriceList | null;
  commitments: CommitmentList | null;
  meter: Meter | null;
  metrics: Metrics | null;
  members: Members | null;
}>;

/** A part that an account may do without. */
export type OptionalPart = Exclude<keyof ProviderParts, "listing" | "power">;

/** A provider could not be read: it did not answer, refused, or answered with something else than agreed. */
export class ProviderError extends AppError {
  readonly code: "provider" | "no_answer" = "provider";
}

/** It did not answer at all, or not in time: asking again at once is no use. */
export class NoAnswerError extends ProviderError {
  override readonly code = "no_answer";
}
