import { MINUTE_S } from "../time";

/** Rounds come this often. */
export const ROUND_EVERY_S = MINUTE_S;
