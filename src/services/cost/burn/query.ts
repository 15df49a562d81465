import type { MoneyView } from "@/core/pricing";
import type { OverrideKind } from "@/core/rounds";
import type { SelectorWarning } from "@/core/selector";
import type { Grouping, Only, Sort } from "@/core/spend";
import type { Instant } from "@/core/time";
import type { StoredResource } from "@/store";
import type { Tense } from "../../inventory";
import type { AtSpot } from "./spot";

export type BurnQuery = Readonly<{
  /** Each a selector, or a word to look for in names, owners, regions and fleets; all have to hold. */
  filters: readonly string[];
  group: Grouping;
  sort: Sort;
  isDescending: boolean;
  /** Only those that should not run, or only those shut down from inside. */
  only: Only;
  /** Groups that are open, by key; the others show their heading alone. */
  opened: readonly string[];
  offset: number;
  limit: number;
  /** As of which instant; null for now. */
  at: Instant | null;
  /** Money after commitments or before them; after unless said. */
  view?: MoneyView;
}>;

/** Money of one line in the currency's minor unit. What is not known ahead of now is null. */
export type BurnMoney = Readonly<{
  perHour: string;
  soFar: string | null;
  month: string | null;
  /** Month to date and what the plans in force will cost until its end. */
  byMonthEnd: string | null;
  /** What the month comes to if all goes on as at this instant. */
  ifAsNow: string | null;
}>;

/** Everything that does not run and cost something this month, together: off, loose or gone. */
export type BurnRest = Readonly<BurnMoney & { kind: "rest"; count: number }>;

export type BurnMachine = Readonly<
  BurnMoney & {
    kind: "machine";
    id: string;
    name: string;
    what: string;
    region: string;
    zone: string;
    owner: string;
    account: string;
    provider: string;
    fleet: string;
    size: string;
    isSpot: boolean;
    state: StoredResource["state"];
    level: number;
    /** A commitment pays for its compute, in whole or in part. */
    isCovered: boolean;
    since: Instant;
    due: "on" | "off" | "leave";
    why: string;
    /** A hold in effect, on it or on its fleet, or its person's start; null where there is none. */
    hold: Readonly<{ id: number; level: number; to: Instant; reason: string; kind: OverrideKind }> | null;
    unpriced: readonly string[];
  }
>;

/** The fee of a commitment: due whatever runs. */
export type BurnFee = Readonly<
  BurnMoney & { kind: "fee"; name: string; region: string; account: string; used: number; units: number }
>;

export type BurnGroup = Readonly<
  BurnMoney & { kind: "group"; key: string; count: number; notDue: number; isOpen: boolean; filter: string | null }
>;
export type BurnLine = BurnMachine | BurnGroup | BurnRest | BurnFee;

export type BurnTotals = Readonly<BurnMoney & { count: number; notDue: number; halted: number; notDuePerHour: string }>;

export type BurnPage = Readonly<{
  now: Instant;
  at: Instant;
  tense: Tense;
  monthEnd: Instant;
  currency: string;
  view: MoneyView;
  lines: readonly BurnLine[];
  lineCount: number;
  /** Of what the filters let through. */
  shown: BurnTotals;
  /** Of what is shown and runs at spot price: what it costs, and would at full price; null where nothing does. */
  spot: AtSpot | null;
  /** Of everything the month costs: what runs, what does not, commitments' fees. */
  all: BurnTotals;
  filterError: Readonly<{ filter: string; at: number; message: string }> | null;
  warnings: readonly SelectorWarning[];
  /** Keys of tags there are, for grouping. */
  tagKeys: readonly string[];
  /** What should be on by now, was asked for and is not. */
  missing: number;
  accounts: readonly Readonly<{ name: string; readAt: Instant | null; error: string | null }>[];
}>;
