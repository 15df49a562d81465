export const CROWD_PROVIDER = "norrhav";
/** A Tuesday, an hour before those on the late shift go home. */
export const CROWD_START = Date.UTC(2027, 2, 16, 20) / 1000;
export const CROWD_EDGE = CROWD_START + 3600;

/** The eight accounts that a crowd is spread over. */
export function crowdAccounts(standinUrl: string) {
  return Array.from({ length: 8 }, (_, i) => ({
    name: `crowd-${i + 1}`,
    provider: CROWD_PROVIDER,
    key: `bench-key-${i + 1}`,
    baseUrl: `${standinUrl}/${CROWD_PROVIDER}`,
  }));
}

/** Those that are always on, and those whose hours end at the edge. */
export const CROWD_PLAN = `
umbrik: 1
schedules:
  - { name: always, zone: UTC, rows: [{ day: daily, spans: ["00:00-24:00"] }] }
  - { name: late, zone: UTC, rows: [{ day: daily, spans: ["06:00-21:00"] }] }
fleets:
  - { name: late-shift, select: "shift = late", hours: late, enforce: always }
  - { name: crowd, select: "team = crowd", hours: always, enforce: always }
`;
