/** Attributes of a host or of a point: names to texts. */
export type Attributes = Readonly<Record<string, string>>;

/** What a point says: a level, a sum that counts on, or the sum and count of a histogram. */
export type PointValue =
  | Readonly<{ kind: "gauge"; value: number }>
  | Readonly<{ kind: "sum"; value: number; isDelta: boolean; isMonotonic: boolean }>
  | Readonly<{ kind: "histogram"; sum: number; count: number; isDelta: boolean }>;

/** One point of one series, as an open protocol tells it. Instants in seconds, fractions kept; `from` null where it is not told. */
export type Point = Readonly<{
  /** The place of its host in the list of hosts. */
  host: number;
  metric: string;
  attributes: Attributes;
  from: number | null;
  at: number;
  value: PointValue;
}>;
