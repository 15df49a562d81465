/** How running resources can be put together, and in which order. */
export const GROUPINGS = ["none", "fleet", "owner", "region", "account"] as const;
export type Grouping = (typeof GROUPINGS)[number];

export const SORTS = ["perHour", "soFar", "since", "name"] as const;
export type Sort = (typeof SORTS)[number];

/** Which of them: everything, what should not run, what was shut down from inside. */
export const ONLY = ["all", "not due", "halted"] as const;
export type Only = (typeof ONLY)[number];
