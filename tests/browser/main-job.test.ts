import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type App, runningOf, startApp } from "../support/app";
import { until } from "../support/patience";
import { get, post } from "../support/world";

let app: App;
beforeAll(async () => {
  app = await startApp();
});
afterAll(() => app?.close());

/** Presses a rate of the demo clock and waits until it is the one that holds. */
async function setRate(words: string): Promise<void> {
  await (await app.browser.button(words)).click();
  await until(
    async () =>
      (await app.browser.driver.findElements({ xpath: `//button[.="${words}" and @aria-pressed="true"]` })).length === 1,
  );
}

// The five steps of the main job, in order, in one browser: each goes on from the one before.

test("1. Burn shows what runs and what it costs, sorted, filtered and grouped", async () => {
  const { browser } = app;
  await browser.open("/");
  const sentence = await browser.sees(
    /\d{2,3} running, .* EUR an hour now; .* by 31 March if plans are kept, .* if all goes on as now/,
    "[data-testid=sentence]",
  );
  const total = Number(/(\d+) running/.exec(sentence)?.[1]);
  expect(total).toBeGreaterThan(140);

  await browser.type("Filter", "team = draughting and region = fjord-1");
  await (await browser.button("Filter")).click();
  const shown = await browser.sees(/Shown: \d+, [\d.]+ EUR an hour/, "[data-testid=shown]");
  expect(Number(/Shown: (\d+)/.exec(shown)?.[1])).toBe(runningOf(await app.osloDesks()));
  await until(async () => (await browser.driver.getCurrentUrl()).includes("filter=team"));

  await (await browser.button("Show all")).click();
  await browser.choose("Group by", "region");
  await browser.sees(/fjord-1\s+\d+ running/);
  await (await browser.at("//button[contains(., 'terai-1')]")).click();
  await browser.sees(/terai-1[\s\S]*class-\d\d/);
  await browser.choose("Group by", "no grouping");
  await (await browser.button("so far")).click();
  await browser.sees("so far ↓");
});

test("a filter that does not parse says where, at the field, and keeps what was typed", async () => {
  const { browser } = app;
  await browser.type("Filter", "region == fjord-1");
  await (await browser.button("Filter")).click();
  await browser.sees("character 9: expected a value");
  expect(await (await browser.field("Filter")).getAttribute("value")).toBe("region == fjord-1");
});

test("2. a selector is written with its matches and warnings beside it, and the fleet is saved", async () => {
  const { browser } = app;
  await browser.open("/fleets");
  await (await browser.at("//a[.='New fleet']")).click();
  await browser.type("Name", "harbour");
  await browser.type("Who", "team = draughting and stage = prdo and region = fjord-1");
  await browser.sees(/stage = prdo matches nothing; the nearest known is prod, on \d+/);
  await (await browser.button("Use prod")).click();
  await browser.sees(/27 match, \d+ running/, "[data-testid=match-count]");
  await browser.type("Who", "team = draughting and region = fjord-1");
  await browser.sees(/28 match, \d+ running/, "[data-testid=match-count]");
  await (await browser.button("Save fleet")).click();
  await browser.sees('there is a fleet "harbour" already');
  expect(await (await browser.field("Who")).getAttribute("value")).toBe("team = draughting and region = fjord-1");
  await browser.type("Name", "oslo-desks");
  await (await browser.button("Save fleet")).click();
  await browser.sees("draft, touches nothing");
});

test("3. an office week is painted, and shows at once what it saves and whom it stops first", async () => {
  const { browser } = app;
  await (await browser.button("New week")).click();
  await browser.sees(/Saves [\d\s]+\.\d\d EUR a month/);
  await browser.choose("Calendar", "none");
  const wanted = runningOf(await app.osloDesks());
  await browser.sees(`Stops ${wanted}`, "[data-testid=first-round]");
  // 08:00-18:00 is there already; 07:30 is painted onto it.
  await browser.choose("Bricks", "30 min");
  await browser.paint(0, 450, 450);
  await browser.sees("07:30-18:00");
  const before = await browser.sees(/Saves/, "aside");
  await (await browser.button("fri")).click();
  await browser.paint(1, 900, 1050);
  await browser.sees("fri 12");
  expect(await (await browser.field("Hours of fri, as text")).getAttribute("value")).toBe("08:00-15:00");
  const after = await browser.sees(/Saves/, "aside");
  expect(after).not.toBe(before);
  await (await browser.button("Undo")).click();
  expect(await (await browser.field("Hours of fri, as text")).getAttribute("value")).toBe("08:00-18:00");
  await (await browser.button("Redo")).click();
  await browser.sees("draft kept");
});

test("a span, a zone and a name that cannot be are told at their field, and nothing typed is lost over a reload", async () => {
  const { browser } = app;
  await browser.type("Hours of fri, as text", "25:00-15:00");
  await browser.sees("25:00 in");
  await browser.type("Zone", "Europe/Osloo");
  await browser.sees("no such zone; did you mean Europe/Oslo?");
  await browser.sees("draft kept");
  await browser.driver.navigate().refresh();
  await browser.sees("no such zone");
  expect(await (await browser.field("Hours of fri, as text")).getAttribute("value")).toBe("25:00-15:00");
  await (await browser.button("Put in force")).click();
  await browser.sees("Europe/Osloo");
  await (await browser.button("Back to the plan")).click();
  await browser.type("Zone", "Europe/Oslo");
  await browser.type("Hours of fri, as text", "07:30-15:00");
  await browser.sees(/Saves [\d\s]+\.\d\d EUR a month/);
});

test("4. put in force with a word of why, the worker's round stops the machines, and the journal says why", async () => {
  const { browser } = app;
  await browser.sees("draft kept");
  // Time stands while the first round is looked at ahead: the worker's own would stop them in between.
  await post(`${app.url}/api/clock`, { kind: "rate", rate: 0 });
  const wanted = runningOf(await app.osloDesks());
  await (await browser.button("Put in force")).click();
  await browser.sees(`First round: stops ${wanted}, starts 0 of 28.`, "[data-testid=effects]");
  await browser.type("Why", "nobody draws at six");
  await (await browser.button(`Put in force and stop ${wanted}`)).click();
  await browser.sees("In force. The next round goes by it");
  expect(runningOf(await app.osloDesks())).toBe(wanted);
  await browser.sees("No difference.", "aside");
  // The draft goes on from what is in force.
  await browser.type("Lead, minutes", "5");
  await browser.sees("lead: 0 min → 5 min", "aside");
  await browser.sees("draft kept");
  await browser.type("Lead, minutes", "0");
  await browser.sees("No difference.", "aside");
  await browser.sees("draft kept");

  await browser.open("/rounds");
  await (await browser.button("Rehearse now")).click();
  await browser.sees(new RegExp(`Rehearsal \\d+, .*would send ${wanted} actions`));
  await browser.sees("a rehearsal sends nothing");
  await browser.open("/rounds");
  await (await browser.button("Run now")).click();
  await until(async () => runningOf(await app.osloDesks()) === 0);
  await browser.sees(`sent ${wanted} actions`);
  await (await browser.at(`//tr[contains(., "sent ${wanted} actions")]//a`)).click();
  await browser.sees(new RegExp(`${wanted} machines stopped\\s+oslo-desks`));
  await browser.sees("oslo-desks-hours (Europe/Oslo) says off, outside its spans");
  await browser.sees(/10 machines left\s+harbour\s+a guard tag forbids any action/);
  await (await browser.at(`//a[contains(., "machines stopped")]`)).click();
  await browser.sees(/desk-osl-07\s+on\s+off\s+/);
  await browser.sees("hours speaks");
  // What was done is found by a machine's name.
  await browser.open("/rounds?search=desk-osl-07");
  await browser.sees(/desk-osl-07\s+stop\s+(sent|done)/);
});

test("rounds are paused with one press and a word of why, said on every page, and resumed there", async () => {
  const { browser } = app;
  await browser.open("/rounds");
  await (await browser.button("Pause…")).click();
  await (await browser.button("Pause rounds")).click();
  await browser.sees("say why");
  await browser.type("Why", "the harbour feast");
  await (await browser.button("Pause rounds")).click();
  await browser.sees(/Rounds are paused since .* by demo: the harbour feast/);
  await browser.open("/fleets");
  await browser.sees("Nothing is stopped or started.");
  await (await browser.button("Resume")).click();
  await until(async () => !(await (await fetch(`${app.url}/`)).text()).includes("Rounds are paused"));
});

test("Burn follows: the desks are stopping, then gone from it, and the rate is lower", async () => {
  const { browser } = app;
  await browser.open("/?filter=desk-osl");
  await browser.sees("stopping");
  const before = await get<{ all: { count: number } }>(`${app.url}/api/burn`);
  const { now } = await get<{ now: number }>(`${app.url}/api/clock`);
  await post(`${app.url}/api/clock`, { kind: "to", to: now + 120 });
  await browser.sees("28 that do not run");
  const after = await get<{ all: { count: number } }>(`${app.url}/api/burn`);
  expect(before.all.count - after.all.count).toBe(20);
  await post(`${app.url}/api/clock`, { kind: "rate", rate: 1 });
});

test("5. the clock is moved edge by edge and across the change to summer time, and the fleet follows", async () => {
  const { browser } = app;
  await browser.open("/rounds");
  await (await browser.button("step to the next edge")).click();
  await browser.sees("Thu 11 Mar 07:30", "[data-testid=clock]");
  // A zone may have no capacity just then; those starts are tried again, and in the end all are there.
  await until(async () => runningOf(await app.osloDesks()) > 15);
  await setRate("×60");
  await until(async () => runningOf(await app.osloDesks()) === 28);
  await setRate("×1");

  // Sunday 28 March is the day Oslo springs forward; Monday's 07:30 is an hour earlier in UTC.
  await post(`${app.url}/api/clock`, { kind: "to", to: Date.UTC(2027, 2, 28, 20) / 1000 });
  await until(async () => runningOf(await app.osloDesks()) === 0);
  await browser.sees("Sun 28 Mar 22:0", "[data-testid=clock]");
  await (await browser.button("step to the next edge")).click();
  await browser.sees("Mon 29 Mar 07:30", "[data-testid=clock]");
  const clock = await get<{ now: number }>(`${app.url}/api/clock`);
  expect(clock.now - Date.UTC(2027, 2, 29, 5, 30) / 1000).toBeLessThan(30);
  await until(async () => runningOf(await app.osloDesks()) > 20);

  await setRate("×3600");
  await browser.sees(/Mon 29 Mar (1[0-9]|2[0-3]):|Tue 30 Mar/, "[data-testid=clock]");
  await until(async () => runningOf(await app.osloDesks()) === 0, 120);
  await (await browser.button("pause")).click();
});

test("a machine that is off is found while its name is typed, and its owner is helped in two presses", async () => {
  const { browser } = app;
  await browser.open("/");
  // What is stopping takes its minute, and the round that sees it another.
  const { now } = await get<{ now: number }>(`${app.standinUrl}/clock`);
  await post(`${app.standinUrl}/clock/step`, { to: now + 130 });
  await browser.type("Find what there is: words or a selector", "desk-osl-1");
  await browser.sees(/desk-osl-1\d\s+(stopped|hibernated)\s+oslo-desks/, "[aria-label=Found]");
  const [line = ""] = /desk-osl-1\d/.exec(await browser.sees("in a list", "[aria-label=Found]")) ?? [];
  await (await browser.at(`//button[@aria-label='Start ${line} for 4 h']`)).click();
  // What was pressed for, until a round has done it: then the machine itself says so.
  await browser.sees(
    new RegExp(`held on for 4 h; (waits for the round|start: )|${line}\\s+(starting|running)`),
    "[aria-label=Found]",
  );
  await until(async () => runningOf(await app.osloDesks()) === 1);
  // With the keys: down to a name, and into its page.
  await browser.type("Find what there is: words or a selector", line);
  await browser.sees("It in a list", "[aria-label=Found]");
  await browser.keys(Key.ARROW_DOWN, Key.ENTER);
  await browser.sees(new RegExp(`${line}[\\s\\S]*In oslo-desks`));
  await browser.type("Find what there is: words or a selector", "team = draughting and region = fjord-1");
  await browser.sees(/All \d+ in a list/, "[aria-label=Found]");
  await (await browser.at("//a[contains(., 'in a list')]")).click();
  await browser.sees(/\d\d found for team = draughting and region = fjord-1/);
  await browser.choose("Column", "team");
  await browser.sees(/Size\s+team/);
});
