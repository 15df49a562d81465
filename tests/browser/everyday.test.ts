import { Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type App, startApp } from "../support/app";
import { get, post } from "../support/world";

type Cdp = { sendDevToolsCommand: (command: string, params: object) => Promise<void> };

const PAGES = ["/", "/fleets", "/fleets/4", "/rounds", "/reports", "/strays", "/odd", "/setup", "/resources"];

/** What a hasty person does: reloads at once, edits what another edits, presses twice, types half, and has a small screen. */
let app: App;
beforeAll(async () => {
  app = await startApp();
});
afterAll(() => app?.close());

const typedIn = async (label: string) => (await app.browser.field(label)).getAttribute("value");
const active = () =>
  app.browser.driver.executeScript<string>(
    "return document.activeElement?.getAttribute('aria-label') ?? document.activeElement?.textContent ?? ''",
  );
const draftOf = (id: number) => get<{ draft: Record<string, unknown>; version: number }>(`${app.url}/api/fleets/${id}`);
const SANTIAGO = 4;

test("what was typed a moment before a reload is there after it, and is kept", async () => {
  const { browser } = app;
  await browser.open(`/fleets/${SANTIAGO}`);
  await browser.sees("This week as it comes out");
  await browser.type("Hours of fri, as text", "08:00-16:30");
  await browser.driver.navigate().refresh();
  await browser.driver.wait(
    async () => (await typedIn("Hours of fri, as text").catch(() => "")) === "08:00-16:30",
    45_000,
    "what was typed came back",
  );
  await browser.sees("draft kept");
  expect(JSON.stringify((await draftOf(SANTIAGO)).draft)).toContain("08:00-16:30");
  expect(await browser.driver.findElements({ xpath: "//*[contains(., 'Somebody else')]" })).toHaveLength(0);
});

test("letters typed into one field are one step back, and a press is one of its own", async () => {
  const { browser } = app;
  await browser.type("Hours of workdays, as text", "09:00-18:15");
  await browser.choose("Starts", "by hand only");
  await (await browser.button("Undo")).click();
  expect(await typedIn("Starts")).toBe("plan");
  expect(await typedIn("Hours of workdays, as text")).toBe("09:00-18:15");
  await (await browser.button("Undo")).click();
  expect(await typedIn("Hours of workdays, as text")).toBe("08:00-19:00");
  await browser.sees("draft kept");
});

test("two who edit one draft see both, and choose field by field", async () => {
  const { browser } = app;
  const { draft, version } = await draftOf(SANTIAGO);
  const theirs = { ...draft, lead: 25, grace: 45 };
  const put = await fetch(`${app.url}/api/fleets/${SANTIAGO}`, {
    method: "PUT",
    headers: { "content-type": "application/json" },
    body: JSON.stringify({ draft: theirs, version, editor: "another page", write: 1 }),
  });
  expect(put.status).toBe(200);
  await browser.type("Lead, minutes", "5");
  await browser.sees("Somebody else has changed this draft meanwhile");
  const choice = (label: string) => browser.field(label);
  expect(await (await choice("Lead: mine")).isSelected()).toBe(true);
  expect(await (await choice("Starts by hand are kept: theirs")).isSelected(), "only they changed it").toBe(true);
  await (await browser.button("Go on with these")).click();
  await browser.sees("draft kept");
  expect((await draftOf(SANTIAGO)).draft).toMatchObject({ lead: 5, grace: 45 });
  expect(await typedIn("Keep starts by hand, minutes")).toBe("45");
});

test("help that was opened by its key gives the keyboard back to where it was, and skip links lead to the wall and the ledger", async () => {
  const { browser } = app;
  const brick = await browser.brick(0, 600);
  await brick.click();
  const before = await active();
  await browser.keys("?");
  await browser.sees("lay it down on another", "[role=dialog]");
  await browser.keys(Key.ESCAPE);
  expect(await active()).toBe(before);
  const press = async (words: string) => {
    const link = await browser.driver.findElement({ xpath: `//a[.='${words}']` });
    await browser.driver.executeScript("arguments[0].focus()", link);
    await browser.keys(Key.ENTER);
  };
  await press("To the week wall");
  expect(await active()).toMatch(/^(workdays|fri) \d\d:00 to \d\d:00/);
  await press("To the ledger");
  expect(await browser.driver.executeScript("return document.getElementById('ledger').contains(document.activeElement)")).toBe(
    true,
  );
});

test("a fleet over two regions is asked whose hours are meant, and may live each in its own", async () => {
  const { browser } = app;
  const { body } = await post(`${app.url}/api/fleets`, { name: "all-desks", select: "team = draughting" });
  const { id } = body as { id: number };
  await browser.open(`/fleets/${id}`);
  await browser.sees("58 match");
  await (await browser.button("New week")).click();
  await browser.sees("Its people live in several zones");
  await (await browser.button("Each machine's own zone")).click();
  await browser.sees("zones, drawn in Oslo time");
  expect(await typedIn("Zone")).toBe("local");
  expect(await typedIn("Calendar")).toBe("oslo");
  await browser.sees(/As painted [\d\s]+\.\d\d EUR a month/);
  await browser.sees("draft kept");
  const preview = await post(`${app.url}/api/fleets/${id}/preview`, { draft: (await draftOf(id)).draft });
  const zones = new Set((preview.body as { edges: { zone: string }[] }).edges.map(({ zone }) => zone));
  expect([...zones].sort()).toEqual(["America/Santiago", "Europe/Oslo", "Pacific/Auckland"]);
});

test("a report that is made is the one that is shown", async () => {
  const { browser } = app;
  await browser.open("/reports");
  await (await browser.button("New report")).click();
  await browser.type("Name", "Morning report");
  await (await browser.button("Make it")).click();
  await browser.sees(/Next on .*, to nobody yet/, "[data-testid=next]");
  expect(await typedIn("Name")).toBe("Morning report");
  const made = await browser.driver.findElement({ xpath: "//button[.='Morning report']" });
  expect(await made.getAttribute("aria-pressed")).toBe("true");
});

test("a stray that cannot be marked keeps its row and the reason, and a price of nothing asks", async () => {
  const { browser } = app;
  await browser.open("/strays");
  await browser.sees("serve nobody");
  const name = await browser.driver.findElement({ css: "main table td" }).getText();
  await (await browser.at(`//button[@aria-label=${JSON.stringify(`it is meant: ${name}`)}]`)).click();
  await browser.type(`Why, ${name}`, "kept for the survey");
  await browser.driver.executeScript(
    "arguments[0].removeAttribute('min'); arguments[0].showPicker = undefined; const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set; set.call(arguments[0], '2020-01-01'); arguments[0].dispatchEvent(new Event('input', { bubbles: true }))",
    await browser.field(`Meant until, ${name}`),
  );
  await (await browser.field(`Meant until, ${name}`)).submit();
  await browser.sees("expected a date from");
  expect(await typedIn(`Why, ${name}`)).toBe("kept for the survey");

  await browser.open("/prices");
  await browser.type("Find a price", "sloop-4 fjord-1 compute");
  await browser.sees("sloop-4");
  await (await browser.at("//button[starts-with(@aria-label, 'open ') and contains(@aria-label, 'sloop-4')]")).click();
  await browser.type("Rate per hour", "0");
  await (await browser.button("Set by hand")).click();
  await browser.sees("At 0 it costs nothing from then on");
  await browser.sees("all as the providers say");
});

test("before a fleet is held off it is said whom that stops", async () => {
  const { browser } = app;
  await browser.open("/fleets/2");
  await (await browser.at("//button[.//span[.='Holds']]")).click();
  await browser.choose("Keep it", "off");
  await browser.type("Why", "the index moves");
  await (await browser.button("Place hold")).click();
  await browser.sees("It stops 2 with the next round");
  await (await browser.button("Hold off and stop 2")).click();
  await browser.sees(/off until/);
  await (await browser.at("//button[@aria-label='Release the hold on archive-index']")).click();
});

test("what is odd in the estate is one list, with the planted mistakes in it", async () => {
  const { browser } = app;
  await browser.open("/odd");
  const text = await browser.sees("the dearest first");
  for (const words of [
    "stage=tset is likely stage=test",
    "hours=clasroom is likely hours=classroom",
    "hours are in UTC time, and its people live in Pacific/Auckland",
    "has run for 41 days without a stop",
    "cost and serve nobody",
  ])
    expect(text).toContain(words);
  await (await browser.at("//a[@aria-label='see where: desk-osl-19']")).click();
  await browser.sees("1 found for stage = tset.");
});

test("at every width nothing is cut off, and the wall is painted by touch", async () => {
  const { browser } = app;
  const { driver } = browser;
  const resize = async (width: number, height: number) => {
    const [w, h] = await driver.executeScript<[number, number]>("return [outerWidth - innerWidth, outerHeight - innerHeight]");
    await driver
      .manage()
      .window()
      .setRect({ width: width + w, height: height + h });
  };
  for (const [width, height] of [
    [1024, 800],
    [768, 900],
    [390, 800],
  ] as const) {
    for (const path of width === 390 ? PAGES : ["/", "/fleets/4"]) {
      await browser.open(path);
      await resize(width, height);
      await browser.sees("Umbrik");
      const over = await driver.executeScript<number>("return document.documentElement.scrollWidth - innerWidth");
      expect(over, `${path} at ${width}`).toBeLessThanOrEqual(0);
    }
  }
  await browser.open("/fleets/4");
  await browser.sees("This week as it comes out");
  const [first, last] = [await browser.brick(1, 1020), await browser.brick(1, 1140)];
  await driver.executeScript("arguments[0].scrollIntoView({ block: 'center' })", first);
  const middle = async (brick: typeof first) => {
    const { x, y, width, height } = await brick.getRect();
    const [left, top] = await driver.executeScript<[number, number]>("return [scrollX, scrollY]");
    return { x: x - left + width / 2, y: y - top + height / 2 };
  };
  const touch = (type: string, touchPoints: readonly { x: number; y: number }[]) =>
    (driver as unknown as Cdp).sendDevToolsCommand("Input.dispatchTouchEvent", { type, touchPoints });
  const [from, to] = [await middle(first), await middle(last)];
  await touch("touchStart", [from]);
  for (const share of [0.25, 0.5, 0.75, 1]) await touch("touchMove", [{ x: from.x + (to.x - from.x) * share, y: from.y }]);
  await touch("touchEnd", []);
  await browser.sees("draft kept");
  expect(await typedIn("Hours of fri, as text")).not.toBe("08:00-16:30");
  await resize(1280, 800);
});
