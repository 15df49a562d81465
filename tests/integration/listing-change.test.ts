import Papa from "papaparse";
import { afterAll, beforeAll, expect, test } from "vitest";
import { GAP_CAUSES } from "@/core/realised";
import { totalOf } from "@/core/spend";
import { DEMO_ACTOR, WORKER } from "@/services/admin";
import { closeSpendDays, machineCost, measureSavings } from "@/services/cost";
import { readClouds } from "@/services/inventory";
import { loadPlan } from "@/services/plans";
import { runRound } from "@/services/rounds";
import { exportFocus } from "@/services/usage";
import { realisedDays, spendDayList } from "@/store";
import { DAY, HOUR, type Unit } from "../../standin/world/types";
import { within } from "../support/patience";
import { PLAN } from "../support/weeks/hours";
import { type Here, startHere } from "../support/weeks/standin-here";

/** In the middle of a day that is a Tuesday a machine of a fleet is listed with another size and a larger disk. */
let here: Here;
const START = Date.UTC(2027, 2, 15) / 1000;
const CHANGE = START + DAY + 12 * HOUR;
const PROVIDER_ID = "norrhav-archive-loader-01";
const ID = `skerry-survey:${PROVIDER_ID}`;

beforeAll(async () => {
  here = await startHere(START);
  const { services, keeper } = here;
  await readClouds(services, START);
  const plan = PLAN.replace(
    "select: team = archive and kind = service and region = fjord-1",
    "select: team = archive and kind = machine",
  );
  await loadPlan(services, DEMO_ACTOR, { text: plan, inForce: ["archive-index"] });
  await runRound(services, WORKER, "act");
  keeper.stepTo(CHANGE);
  Object.assign(keeper.world.units.find(({ id }) => id === PROVIDER_ID) as Unit, {
    size: "brig-16",
    cores: 16,
    memoryGib: 64,
    diskGib: 1024,
  });
  await runRound(services, WORKER, "act");
  keeper.stepTo(START + 2 * DAY + HOUR);
  await runRound(services, WORKER, "act");
  await closeSpendDays(services, WORKER);
  await measureSavings(services, WORKER);
}, within(120));
afterAll(() => here?.close());

const TUESDAY = "2027-03-16";
const number = (text: string) => Number(text.replaceAll(/[\u00a0\u202f ]/g, ""));

test("half of the day is charged as it was listed before and half as after, and the file, the machine's page and the ledger of days agree", async () => {
  const { services } = here;
  const [spend] = await spendDayList(services.pool, { from: TUESDAY, to: TUESDAY, ids: [ID] });
  const gross = Number((spend ? totalOf(spend.cost) + spend.cost.covered : 0n) as bigint) / 2.628e15;
  const disks = (12 * 512 + 12 * 1024) * (0.048 / 730);
  expect(gross).toBeCloseTo(12 * 0.337 + 12 * 0.674 + disks, 4);
  const page = await machineCost(services, DEMO_ACTOR, { id: ID, from: TUESDAY, to: TUESDAY, view: "before" });
  expect(number(page.total)).toBeCloseTo(gross, 2);
  let text = "";
  for await (const piece of exportFocus(services, DEMO_ACTOR, { from: TUESDAY, to: TUESDAY })) text += piece;
  const rows = Papa.parse<Record<string, string>>(text, { header: true }).data.filter(
    ({ ResourceId }) => ResourceId === PROVIDER_ID,
  );
  const sum = (column: string) => rows.reduce((total, row) => total + Number(row[column]), 0);
  expect(sum("ContractedCost")).toBeCloseTo(gross, 4);
  expect(sum("ListCost")).toBeCloseTo(gross, 4);
  expect(sum("BilledCost")).toBeCloseTo(Number(spend ? totalOf(spend.cost) : 0n) / 2.628e15, 4);
});

test("what a listing changed is no gap: the machines are due on all day, and ran", async () => {
  const [day] = await realisedDays(here.services.pool, { from: TUESDAY, to: TUESDAY });
  const euros = (amount: bigint | undefined) => Number(amount ?? Number.NaN) / 2.628e15;
  const disks = (5 * 24 * 512 + 12 * 512 + 12 * 1024) * (0.048 / 730);
  expect(euros(day?.paid)).toBeCloseTo(5 * 24 * 0.337 + 12 * 0.337 + 12 * 0.674 + disks, 4);
  for (const cause of GAP_CAUSES) expect(euros(day?.gap[cause]), cause).toBeCloseTo(0, 4);
  expect(euros(day?.alwaysOn)).toBeCloseTo(euros(day?.paid), 4);
});
