/** The cookie that keeps which zones the strip is shown in: the server tells times in the first. */
export const SHOWN_ZONES = "umbrik-zones";
