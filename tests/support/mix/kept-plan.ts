import { HOUR } from "../trusted";

/** A group of the stand-in under a mix: ten by day, four by night (UTC), three of them firm. */
export const KEPT_PLAN = `
umbrik: 1
schedules:
  - name: counts
    zone: UTC
    outside: 4
    rows:
      - { day: daily, spans: ["06:00-20:00 x10"] }
fleets:
  - name: tiles
    select: name = viewer-tiles-north
    hours: counts
    mix:
      wanted: 10
      firm: 3
      firmPrice: 0.1685
      setupMinutes: 4
      eviction: drop
      order: even
      refillEveryMinutes: 5
      fallbackAfterMinutes: 20
      returnAfterMinutes: 60
      floor: 3
      pools:
        - { name: sloop-4 fjord-1a, price: 0.06, hazard: 0.01 }
        - { name: sloop-4 fjord-1b, price: 0.06, hazard: 0.01 }
        - { name: ketch-8 fjord-1a, price: 0.12, hazard: 0.02, unitsPerMachine: 2 }
`;

export const wantedAt = (t: number) => (Math.floor(t / HOUR) % 24 >= 6 && Math.floor(t / HOUR) % 24 < 20 ? 10 : 4);
