import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type App, startApp } from "../support/app";
import { within } from "../support/patience";
import { get } from "../support/world";

let app: App;
beforeAll(async () => {
  app = await startApp();
});
afterAll(() => app?.close());

const AXE = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");
type Violation = { id: string; impact: string; nodes: { html: string }[] };

async function violations(rules: "all" | "colours" = "all"): Promise<string[]> {
  await app.browser.driver.executeScript(AXE);
  const found = await app.browser.driver.executeAsyncScript<Violation[]>(
    "const [only, done] = arguments; axe.run(document, { resultTypes: ['violations'], ...(only === 'all' ? {} : { runOnly: ['cat.color'] }) }).then(({ violations }) => done(violations))",
    rules,
  );
  return found.map(({ id, impact, nodes }) => `${id} (${impact}): ${nodes[0]?.html.slice(0, 200)}`);
}

const PLACES: readonly (readonly [path: string, seen: string | RegExp])[] = [
  ["/", /\d+ running/],
  ["/?group=owner&only=halted", "Shut down from inside"],
  ["/?filter=team+%3D+sonar-lab&group=region&open=tasman-2", "sonar-nz"],
  ["/?at=2027-03-16T20:00:00Z", "due to run"],
  ["/resources?tag=team", "resources, on and off"],
  ["/strays", "disks without a machine"],
  ["/reports", "As it would be mailed now"],
  ["/reports/mails", "No mail has gone out yet"],
  ["/reports/realised", "Nothing to compare yet"],
  ["/usage", "FOCUS files"],
  ["/prices", "138 prices"],
  ["/mail/confirm?token=x", "no link of ours"],
  ["/fleets", "fleets, 2 with a plan in force"],
  ["/fleets/new", "Save fleet"],
  ["/fleets/2", /archive-index[\s\S]*This week as it comes out/],
  ["/fleets/3", /Auckland/],
  ["/fleets/5", "Tag that names the hours"],
  ["/schedules", /schedules?, \d that nobody uses|each of them used/],
  ["/calendars/oslo", "holidays in 2027"],
  ["/calendars/new", "New calendar"],
  ["/rounds", "Journal"],
  ["/rounds/1", "Asked by worker"],
  ["/setup", "accounts at 2 providers"],
  ["/odd", /odd/i],
  ["/leave-on?token=x", "This is no link of ours"],
  ["/nowhere", "There is nothing here"],
];

test.each(["light", "dark"])(
  "axe finds nothing on any place in the %s theme",
  async (theme) => {
    const { browser } = app;
    await browser.open("/");
    await browser.driver.manage().addCookie({ name: "umbrik-theme", value: theme });
    const { lines } = await get<{ lines: { id: string }[] }>(`${app.url}/api/burn?filter=archive-index-01`);
    const machine = `/machines/${lines[0]?.id}?at=2027-03-27T20:00:00Z`;
    for (const [path, seen] of [...PLACES, [machine, "1 h lost"] as const]) {
      await browser.open(path);
      await browser.sees(seen);
      await browser.sees(/this hour|Money per hour/);
      // The same page in other colours: only those are new.
      expect(await violations(theme === "light" ? "all" : "colours"), path).toEqual([]);
    }
  },
  within(300),
);

test("a week is painted with the keyboard alone, and the wall says where one is", async () => {
  const { browser } = app;
  await browser.open("/fleets/4");
  await browser.sees("This week as it comes out");
  await browser.choose("Bricks", "30 min");
  await (await browser.brick(0, 480)).click();
  await browser.keys("0");
  const cell = () => browser.driver.switchTo().activeElement();
  expect(await cell().getAttribute("aria-label")).toMatch(/^workdays 08:00 to 08:30, off$/);
  await browser.keys(Key.HOME);
  await browser.driver
    .actions()
    .keyDown(Key.SHIFT)
    .sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_RIGHT)
    .keyUp(Key.SHIFT)
    .perform();
  await browser.keys("1");
  expect(await (await browser.field("Hours of workdays, as text")).getAttribute("value")).toBe("00:00-02:00, 08:30-19:00");
  await browser.keys("c", Key.ARROW_DOWN, "v");
  expect(await (await browser.field("Hours of fri, as text")).getAttribute("value")).toBe("00:00-02:00, 08:30-19:00");
  await browser.driver.actions().keyDown(Key.CONTROL).sendKeys("z").keyUp(Key.CONTROL).perform();
  expect(await (await browser.field("Hours of fri, as text")).getAttribute("value")).toBe("08:00-17:00");
});

test("a schedule is copied to another zone in one step", async () => {
  const { browser } = app;
  await browser.open("/fleets/3");
  await browser.sees(/The hours are in UTC time; the people of this region live in Auckland/);
  await (await browser.button("Copy another")).click();
  await browser.choose("Copy of", "desks-santiago");
  await browser.type("Zone of the copy", "Pacific/Auckland");
  await (await browser.button("Make the copy")).click();
  await browser.sees("draughting-auckland-hours, Pacific/Auckland");
  await browser.sees(/hours: desks-auckland|nothing is in force yet/);
});

test("rows stay smooth however many they are: only those in sight are in the page", async () => {
  const { browser } = app;
  await browser.open("/");
  await browser.sees(/\d+ running/);
  const rows = () => browser.driver.executeScript<number>("return document.querySelectorAll('[role=table] [role=row]').length");
  expect(await rows()).toBeLessThan(60);
  await browser.driver.executeScript("document.querySelector('[role=table]').scrollTop = 1e6");
  await browser.sees(/loose-0\d|harbour|class-/);
  expect(await rows()).toBeLessThan(60);
});

test("the keys are listed at a question mark, except while one is being typed", async () => {
  const { browser } = app;
  await browser.open("/fleets");
  await browser.sees("New fleet");
  await browser.type("Find what there is: words or a selector", "?");
  expect(await browser.driver.findElements({ css: "[role=dialog]" })).toHaveLength(0);
  await (await browser.driver.findElement({ css: "h1" })).click();
  await browser.keys("?");
  await browser.sees("lay it down on another", "[role=dialog]");
  expect(await violations()).toEqual([]);
  await browser.keys(Key.ESCAPE);
  expect(await browser.driver.findElements({ css: "[role=dialog]" })).toHaveLength(0);
});

test("a fleet, a round and a page that do not exist say so", async () => {
  const { browser } = app;
  for (const path of ["/fleets/999", "/rounds/999", "/fleets/x"]) {
    await browser.open(path);
    await browser.sees("There is nothing here");
  }
});
