/** Thursday 11 March 2027, 05:00 UTC: within a month three zones change their clocks and Oslo has Easter. */
export const WORLD_START = Date.UTC(2027, 2, 11, 5) / 1000;
export const HISTORY_DAYS = 28;
export const SEED = 20270311;

/** Fleets of demo/plan.yaml whose plan is in force when the demo begins; the others are saved only. */
export const IN_FORCE: readonly string[] = ["harbour", "archive-index"];

/** The report that is set up when the demo begins; nobody gets it yet. */
export const REPORT = {
  name: "Evening report",
  zone: "Europe/Oslo",
  minute: 18 * 60,
  days: ["mon", "tue", "wed", "thu", "fri"] as ("mon" | "tue" | "wed" | "thu" | "fri")[],
  isOn: true,
};

/** How the owners that tags name are written to. */
export const OWNERS = { tag: "owner", domain: "skerrywick.example" };
