import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, test } from "vitest";
import { openServices } from "@/services/admin";
import { leaveOnLink } from "@/services/idle";
import { addAlarmChanges, alarmChanges, overridesFrom } from "@/store";
import { type App, startApp } from "../support/app";
import { until, within } from "../support/patience";
import { get, post } from "../support/world";

let app: App;
let fleet = 0;
beforeAll(async () => {
  app = await startApp();
  // A rule is tried on whole weeks: they are read in the background.
  await until(async () => {
    const answer = await fetch(
      `${app.url}/api/idle/samples?machine=${encodeURIComponent("skerry-desks:norrhav-desk-osl-01")}&metric=cpu`,
    );
    const head = new TextDecoder().decode(await answer.arrayBuffer()).slice(0, 400);
    const [, firstEnd, knownFrom] = /"firstEnd":(\d+).*"knownFrom":(\d+)/.exec(head) ?? [];
    return Number(knownFrom) - Number(firstEnd) < 5 * 86_400;
  }, 90_000);
  const { body } = await post(`${app.url}/api/fleets`, { name: "oslo-desks", select: "team = draughting and region = fjord-1" });
  fleet = (body as { id: number }).id;
}, within(240));
afterAll(() => app?.close());

/** What an address of a part leads to, once it is there. */
async function part(xpath: string) {
  await app.browser.at(xpath);
  return app.browser.driver.findElement({ xpath });
}
const figures = async () => {
  const { driver } = app.browser;
  const text = await driver.executeScript<string>(
    "return document.querySelector('[data-testid=quiet-figures]')?.textContent ?? ''",
  );
  const [, trips, hours] = /^(\d+) trips, (\d+) hours/.exec(text) ?? [];
  return { text, trips: Number(trips), hours: Number(hours) };
};
const draft = async () =>
  (
    await get<{ draft: { idle?: { conditions: { metric: string; threshold: number; window: number }[]; warn: number }[] } }>(
      `${app.url}/api/fleets/${fleet}`,
    )
  ).draft;

test("a rule begun from a preset is tried at once, and its figures move while the threshold is dragged", async () => {
  const { browser } = app;
  await browser.open(`/fleets/${fleet}`);
  await (await browser.at("//h2/button[contains(., 'Quiet')]")).click();
  await (await browser.button("Nothing is computed")).click();
  await browser.sees(/\d+ trips, \d+ hours off a month/);
  await browser.sees("Idle alarms save");
  const before = await figures();
  expect(before.trips).toBeGreaterThan(50);
  const slider = await part("//*[@role='slider' and @aria-label='Threshold of cpu']");
  await browser.driver.executeScript("arguments[0].scrollIntoView({ block: 'center' })", slider);
  const { x, y, width } = await slider.getRect();
  const at = { x: Math.round(x + width / 2), y: Math.round(y + 8) };
  const hand = browser.driver.actions({ async: true });
  await hand
    .move(at)
    .press()
    .move({ x: at.x, y: at.y + 12, duration: 200 })
    .perform();
  await until(async () => (await figures()).text !== before.text);
  const dragged = await figures();
  expect(dragged.hours).toBeLessThan(before.hours);
  await browser.driver.actions({ async: true }).release().perform();
  await browser.sees("draft kept");
  expect((await draft()).idle?.[0]?.conditions[0]?.threshold).toBeLessThan(8);
  // One stroke is one step back.
  await (await browser.button("Undo")).click();
  await until(async () => (await draft()).idle?.[0]?.conditions[0]?.threshold === 8);
});

test("the keys move the threshold too, words take what is typed, and what is no number is said and not taken", async () => {
  const { browser } = app;
  const slider = await part("//*[@role='slider' and @aria-label='Threshold of cpu']");
  await slider.sendKeys(Key.ARROW_UP);
  await until(async () => ((await draft()).idle?.[0]?.conditions[0]?.threshold ?? 0) > 8);
  await browser.type("Rule 1: condition 1, threshold", "NaN");
  expect(await (await browser.field("Rule 1: condition 1, threshold")).getAttribute("aria-invalid")).toBe("true");
  await browser.type("Rule 1: condition 1, threshold", "6.5");
  await browser.type("Rule 1: warning, minutes", "20");
  await browser.sees("draft kept");
  await until(async () => (await draft()).idle?.[0]?.warn === 20);
  expect((await draft()).idle?.[0]?.conditions[0]?.threshold).toBe(6.5);
});

test("a sweep shows its progress, marks what it suggests, and a cell is pressed to take it", async () => {
  const { browser } = app;
  await (await browser.button("Try 8 thresholds")).click();
  await browser.sees(/interruptions a week: take < [\d.]+ over/);
  const cell = await browser.at("//table//button[contains(@aria-label, 'over 45 min') and starts-with(@aria-label, '< 13')]");
  await cell.click();
  await until(async () => {
    const own = (await draft()).idle?.[0]?.conditions[0];
    return own?.window === 45 && own.threshold === 13;
  });
});

test("put in force it watches, says how each alarm stands and why, and is paused with a reason", async () => {
  const { browser } = app;
  await (await browser.button("Put in force…")).click();
  await browser.type("Why", "nobody is there at night");
  await (await browser.at("//*[@role='dialog']//button[starts-with(normalize-space(.), 'Put in force')]")).click();
  await browser.sees("In force. The next round goes by it");
  await browser.sees("Alarms now");
  await browser.sees(/[1-9]\d* (watching|blind)/);
  await (await part("//form[@aria-label='Pause its alarms']//input")).sendKeys("stock-taking");
  await (await browser.at("//form[@aria-label='Pause its alarms']//button")).click();
  await browser.sees(/Paused by demo until .*: stock-taking/);
  await (await browser.button("Look again now")).click();
  await browser.sees("Pause its alarms for");
});

test("a machine's page is its four weeks: dragged it is looked at closer, an instant opens its reasons", async () => {
  const { browser } = app;
  await browser.open("/machines/skerry-desks:norrhav-desk-osl-03");
  await browser.sees("Drag to look closer");
  await browser.sees("Idle alarms");
  const figure = await part("//figure[@aria-label='Its last four weeks']//*[contains(@class, 'cursor-crosshair')]");
  const { x, y, width } = await figure.getRect();
  const from = { x: Math.round(x + width * 0.5), y: Math.round(y + 80) };
  await browser.driver
    .actions({ async: true })
    .move(from)
    .press()
    .move({ x: from.x + 120, y: from.y, duration: 200 })
    .release()
    .perform();
  await browser.sees("All four weeks");
  await browser.driver.actions({ async: true }).move(from).click().perform();
  await browser.sees("back to now");
  // The words come with the page, its address a moment later.
  await until(async () => (await browser.driver.getCurrentUrl()).includes("at=2027-"));
});

test("an owner's link on a phone says what a press would do, does it once, and fits", async () => {
  const { browser } = app;
  const services = openServices(app.env);
  try {
    const resourceId = "skerry-desks:norrhav-desk-osl-03";
    const { now: at } = await services.clock.read();
    const warned = {
      at,
      resourceId,
      fleet: "oslo-desks",
      ruleKey: "any",
      words: "cpu mean < 5 over 60 min",
      state: "warned",
      reason: { code: "said", words: "quiet" },
    } as const;
    await addAlarmChanges(services.pool, [{ ...warned, samples: null }], () => false);
    const [change] = await alarmChanges(services.pool, { resourceId, limit: 1 });
    const link = await leaveOnLink(services, { resourceId, change: change?.id ?? 0, at });
    await browser.driver.manage().window().setRect({ width: 390, height: 800 });
    await browser.open(link.slice(link.indexOf("/leave-on")));
    await browser.sees(/(Leave|Start) desk-osl-03 .*for 2 hours\?/);
    await browser.sees("Opening this page changed nothing.");
    expect((await overridesFrom(services.pool, at)).filter((hold) => hold.resourceId === resourceId)).toEqual([]);
    expect(await browser.driver.executeScript("return document.documentElement.scrollWidth <= window.innerWidth")).toBe(true);
    await (await browser.at("//button[contains(., 'for 2 hours')]")).click();
    await browser.sees("desk-osl-03 is left on");
    await browser.driver.navigate().refresh();
    await browser.sees("desk-osl-03 is left on");
    expect((await overridesFrom(services.pool, at)).filter((hold) => hold.resourceId === resourceId)).toHaveLength(1);
  } finally {
    await services.pool.end();
  }
});

test("a link that is not ours says so on a phone, and nothing is cut off", async () => {
  const { browser } = app;
  await browser.driver.manage().window().setRect({ width: 390, height: 800 });
  await browser.open("/leave-on?token=abc.def");
  await browser.sees("This is no link of ours");
  expect(await browser.driver.executeScript("return document.documentElement.scrollWidth <= window.innerWidth")).toBe(true);
});
