import { wallClock } from "../../../standin/world/local";
import type { Unit } from "../../../standin/world/types";

/** The nine fleets as a plan file, and beside it the same hours said once more, the slow way. */
export const PLAN = `umbrik: 1
currency: EUR
calendars:
  - { name: oslo, rest: [sat, sun], holidays: ["2027-03-25", "2027-03-26..2027-03-29", "2027-05-17"] }
  - { name: auckland, rest: [sat, sun], holidays: ["2027-03-26", "2027-03-29", "2027-04-26"] }
  - { name: kathmandu, rest: [sat] }
schedules:
  - name: desks-oslo
    zone: Europe/Oslo
    calendar: oslo
    rows: [{ day: workdays, spans: ["07:30-18:00"] }]
  - name: desks-auckland
    zone: Pacific/Auckland
    calendar: auckland
    rows: [{ day: workdays, spans: ["07:30-18:00"] }]
  - name: desks-santiago
    zone: America/Santiago
    rows: [{ day: workdays, spans: ["08:00-19:00"] }, { day: fri, spans: ["08:00-17:00"] }]
  - name: archive-cores
    zone: Europe/Oslo
    calendar: oslo
    outside: 6
    rows: [{ day: restdays, spans: ["00:00-24:00 x2"] }, { day: [tue, fri], spans: ["19:00-23:30 x12"] }]
  - name: classroom
    zone: Asia/Kathmandu
    calendar: kathmandu
    rows:
      - { day: sat, spans: ["09:00-13:00"], holidays: too }
      - { day: "2027-03-17", spans: ["10:00-16:00"] }
      - { day: "2027-03-24..2027-03-25", spans: ["10:00-16:00"] }
  - name: trial-hours
    zone: Europe/Oslo
    calendar: oslo
    rows: [{ day: workdays, spans: ["08:00-20:00"] }]
  - name: viewer-day
    zone: Pacific/Auckland
    outside: 2
    rows: [{ day: [mon, tue, wed, thu, fri, sat, sun], spans: ["06:00-22:00"] }]
  - name: replay-counts
    zone: UTC
    outside: 1
    rows: [{ day: [mon, tue, wed, thu, fri], spans: ["08:00-18:00 x4"] }]
fleets:
  - { name: harbour, select: team = harbour, hours: desks-oslo }
  - { name: archive-index, select: team = archive and kind = service and region = fjord-1, hours: archive-cores }
  - { name: desks-oslo, select: team = draughting and region = fjord-1, hours: desks-oslo, offAction: hibernate }
  - { name: desks-auckland, select: team = draughting and region = tasman-2, hours: desks-auckland, offAction: hibernate }
  - { name: desks-santiago, select: team = draughting and region = cordillera-1, hours: desks-santiago, lead: 10, offAction: hibernate }
  - { name: training, select: team = training, hours: { fromTag: hours }, lead: 15 }
  - { name: sonar, select: team = sonar-lab and region = fjord-1, hours: trial-hours, starts: hand }
  - { name: viewer-tiles, select: team = viewer and kind = group, hours: viewer-day }
  - { name: replay-pools, select: team = replay and kind = group, hours: replay-counts }
`;

/** "own" is a resource's own size; null says leave. */
export type Said = number | "own" | null;
type Wall = Readonly<{ date: string; weekday: number; minute: number }>;

const OSLO_HOLIDAYS = ["2027-03-25", "2027-03-26", "2027-03-27", "2027-03-28", "2027-03-29", "2027-05-17"];
const AUCKLAND_HOLIDAYS = ["2027-03-26", "2027-03-29", "2027-04-26"];
const isIn = (minute: number, from: string, to: string) => {
  const minutes = (text: string) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3));
  return minute >= minutes(from) && minute < minutes(to);
};
const onIf = (is: boolean): Said => (is ? "own" : 0);

export type Rule = Readonly<{ zone: string; says: (wall: Wall) => Said }>;

/** What each schedule says at a wall clock; `osloEnd` is when desks in Oslo go off, which changes during the weeks. */
export function rules(osloEnd: string): Readonly<Record<string, Rule>> {
  const osloWorks = ({ date, weekday }: Wall) => weekday < 5 && !OSLO_HOLIDAYS.includes(date);
  return {
    "desks-oslo": { zone: "Europe/Oslo", says: (wall) => onIf(osloWorks(wall) && isIn(wall.minute, "07:30", osloEnd)) },
    "desks-auckland": {
      zone: "Pacific/Auckland",
      says: ({ date, weekday, minute }) =>
        onIf(weekday < 5 && !AUCKLAND_HOLIDAYS.includes(date) && isIn(minute, "07:30", "18:00")),
    },
    "desks-santiago": {
      zone: "America/Santiago",
      says: ({ weekday, minute }) => onIf(weekday < 5 && isIn(minute, "08:00", weekday === 4 ? "17:00" : "19:00")),
    },
    "archive-cores": {
      zone: "Europe/Oslo",
      says: (wall) => {
        if (!osloWorks(wall)) return 2;
        return (wall.weekday === 1 || wall.weekday === 4) && isIn(wall.minute, "19:00", "23:30") ? 12 : 6;
      },
    },
    classroom: {
      zone: "Asia/Kathmandu",
      says: ({ date, weekday, minute }) => {
        if (["2027-03-17", "2027-03-24", "2027-03-25"].includes(date)) return onIf(isIn(minute, "10:00", "16:00"));
        return onIf(weekday === 5 && isIn(minute, "09:00", "13:00"));
      },
    },
    "trial-hours": { zone: "Europe/Oslo", says: (wall) => onIf(osloWorks(wall) && isIn(wall.minute, "08:00", "20:00")) },
    "viewer-day": { zone: "Pacific/Auckland", says: ({ minute }) => (isIn(minute, "06:00", "22:00") ? "own" : 2) },
    "replay-counts": { zone: "UTC", says: ({ weekday, minute }) => (weekday < 5 && isIn(minute, "08:00", "18:00") ? 4 : 1) },
  };
}

export function saidAt({ zone, says }: Rule, t: number): Said {
  const { day, weekday, hour } = wallClock(zone, t);
  return says({ date: new Date(day * 86_400_000).toISOString().slice(0, 10), weekday, minute: Math.round(hour * 60) });
}

export type SlowFleet = Readonly<{
  name: string;
  has: (unit: Pick<Unit, "kind" | "region">, team: string) => boolean;
  hours: (unit: Unit) => string | null;
  leadMinutes: number;
  hibernates: boolean;
  byHand: boolean;
}>;

const fleet = (name: string, has: SlowFleet["has"], more: Partial<SlowFleet> & { follows?: string } = {}): SlowFleet => ({
  name,
  has,
  hours: () => more.follows ?? name,
  leadMinutes: 0,
  hibernates: false,
  byHand: false,
  ...more,
});
const inTeam =
  (asked: string, more: (unit: Pick<Unit, "kind" | "region">) => boolean): SlowFleet["has"] =>
  (unit, team) =>
    team === asked && more(unit);

/** In the order of their ranks: the first that has a unit claims it. */
export const FLEETS: readonly SlowFleet[] = [
  fleet(
    "harbour",
    inTeam("harbour", () => true),
    { hours: () => null },
  ),
  fleet(
    "archive-index",
    inTeam("archive", ({ kind, region }) => kind === "service" && region === "fjord-1"),
    { follows: "archive-cores" },
  ),
  fleet(
    "desks-oslo",
    inTeam("draughting", ({ region }) => region === "fjord-1"),
    { hibernates: true },
  ),
  fleet(
    "desks-auckland",
    inTeam("draughting", ({ region }) => region === "tasman-2"),
    { hibernates: true },
  ),
  fleet(
    "desks-santiago",
    inTeam("draughting", ({ region }) => region === "cordillera-1"),
    { hibernates: true, leadMinutes: 10 },
  ),
  fleet(
    "training",
    inTeam("training", () => true),
    {
      hours: ({ tags }) => (tags.hours === "classroom" ? "classroom" : null),
      leadMinutes: 15,
    },
  ),
  fleet(
    "sonar",
    inTeam("sonar-lab", ({ region }) => region === "fjord-1"),
    { follows: "trial-hours", byHand: true },
  ),
  fleet(
    "viewer-tiles",
    inTeam("viewer", ({ kind }) => kind === "group"),
    { follows: "viewer-day" },
  ),
  fleet(
    "replay-pools",
    inTeam("replay", ({ kind }) => kind === "group"),
    { follows: "replay-counts" },
  ),
];
