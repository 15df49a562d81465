import type { BurnQuery } from "@/services/cost";

/** Everything that runs, now. */
export const EVERYTHING: BurnQuery = {
  filters: [],
  group: "none",
  sort: "perHour",
  isDescending: true,
  only: "all",
  opened: [],
  offset: 0,
  limit: 500,
  at: null,
};
