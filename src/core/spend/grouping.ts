/** How running resources can be put together, and in which order; by the value of any tag as `tag:KEY`. */
export const GROUPINGS = ["none", "fleet", "owner", "region", "account", "provider", "size", "purchase"] as const;
export type Grouping = (typeof GROUPINGS)[number] | `tag:${string}`;

export function isGrouping(text: string): text is Grouping {
  return GROUPINGS.some((name) => name === text) || /^tag:.{1,128}$/.test(text);
}

export const SORTS = ["perHour", "soFar", "month", "since", "name"] as const;
export type Sort = (typeof SORTS)[number];

/** Which of them: everything, what should not run, what was shut down from inside. */
export const ONLY = ["all", "not due", "halted"] as const;
export type Only = (typeof ONLY)[number];
