import { writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
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

const typedIn = async (label: string) => (await app.browser.field(label)).getAttribute("value");
const file = (name: string, text: string) => {
  const path = join(tmpdir(), name);
  writeFileSync(path, text);
  return path;
};
async function upload(xpath: string, path: string): Promise<void> {
  await app.browser.driver.findElement({ xpath }).sendKeys(path);
}

test("a week is painted by mouse in quarters, read both ways, and as a line; each follows the other", async () => {
  const { browser } = app;
  const { body } = await post(`${app.url}/api/fleets`, { name: "oslo-desks", select: "team = draughting and region = fjord-1" });
  await browser.open(`/fleets/${(body as { id: number }).id}`);
  await (await browser.button("New week")).click();
  await browser.sees(/As painted [\d\s]+\.\d\d EUR a month/);
  // It comes in the zone and with the calendar of its people; here it is to have none.
  expect([await typedIn("Zone"), await typedIn("Calendar")]).toEqual(["Europe/Oslo", "oslo"]);
  await browser.choose("Calendar", "none");
  await browser.choose("Bricks", "15 min");
  await browser.paint(0, 465, 465);
  expect(await typedIn("Hours of workdays, as text")).toBe("07:45-18:00");
  expect(await typedIn("The same as one line")).toBe("Mo-Fr 07:45-18:00; PH off");

  const before = await browser.sees(/As painted/, "[data-testid=live-price]");
  await browser.choose("Wall shows", "off during");
  expect(await typedIn("Hours of workdays, as text")).toBe("00:00-07:45, 18:00-24:00");
  expect(await browser.sees(/As painted/, "[data-testid=live-price]")).toBe(before);
  await browser.type("Hours of workdays, as text", "00:00-07:45, 17:00-24:00");
  await browser.choose("Wall shows", "on during");
  expect(await typedIn("Hours of workdays, as text")).toBe("07:45-17:00");

  // What reads on the way is followed; what does not is told at its place, and the rows stay as they were.
  await browser.type("The same as one line", "Mo-Fr 07:00-18:00; Fr 25:00-15:00");
  await browser.sees('character 23: "25:00" is not a time');
  expect(await typedIn("Hours of mon, tue, wed, thu, fri, as text")).toBe("07:00-18:00");
  await browser.type("The same as one line", "Mon-Fri 7:30-18:00; PH off");
  await (await browser.button("Use Mo-Fr 07:30-18:00; PH off")).click();
  await browser.sees("mon, tue, wed, thu, fri");
  expect(await typedIn("Hours of mon, tue, wed, thu, fri, as text")).toBe("07:30-18:00");
});

test("the price follows the mouse before it is let go", async () => {
  const { browser } = app;
  await browser.choose("Bricks", "60 min");
  const first = await browser.brick(0, 1020);
  await browser.driver.executeScript("arguments[0].scrollIntoView({ block: 'center' })", first);
  await browser.driver.actions().move({ origin: first }).press().perform();
  await browser.sees(/−[\d\s]+\.\d\d with this stroke/, "[data-testid=live-price]");
  await browser.driver
    .actions()
    .move({ origin: await browser.brick(0, 900) })
    .perform();
  const three = await browser.sees(/with this stroke/, "[data-testid=live-price]");
  await browser.driver.actions().release().perform();
  expect(await typedIn("Hours of mon, tue, wed, thu, fri, as text")).toBe("07:30-15:00");
  const stroke = (/As painted ([\d\s.]+) EUR/.exec(three) as RegExpExecArray)[1];
  await browser.sees(`As painted ${stroke} EUR`, "[data-testid=live-price]");
  await (await browser.button("Undo")).click();
});

test("a row's days are changed by keyboard, a date becomes an exception, and each brick says which row made it", async () => {
  const { browser } = app;
  await (await browser.at("//button[@aria-label='Change the days of the row mon, tue, wed, thu, fri']")).click();
  await browser.keys(Key.TAB, " ");
  await browser.sees("tue, wed, thu, fri");
  await (await browser.at("//button[.='mon' and @aria-pressed='false']")).click();
  await browser.keys(Key.ESCAPE);

  await (await browser.at("//button[contains(@aria-label, '2027-03-12, on')]")).click();
  await (await browser.button("Off that day")).click();
  await browser.sees("fri 2027-03-12: off");
  expect(await typedIn("The same as one line")).toContain("2027 Mar 12 off");
  await browser.driver.findElement({ css: '[aria-label="Effective week"] [data-day="4"]' }).click();
  await browser.sees("because of the row 2027-03-12", "[data-testid=why-brick]");
  await (await browser.at("//button[@aria-label='A week later']")).click();
  await (await browser.at("//button[@aria-label='A week later']")).click();
  await browser.sees("23 h");
  await browser.keys(Key.TAB);
  await browser.type("A date, or date..date, to add a row for", "2027-04-05..2027-04-01");
  await browser.sees("runs backwards");
  await browser.sees("draft kept");
});

test("what is stored is what was painted, and the next round goes by it", async () => {
  const { browser } = app;
  const wanted = runningOf(await app.osloDesks());
  await (await browser.button("Put in force")).click();
  await browser.sees(`stops ${wanted}`, "[data-testid=effects]");
  await browser.type("Why", "the quay is quiet");
  await (await browser.button("Put in force and stop")).click();
  await browser.sees("In force.");
  const plan = await get<{ schedules: { name: string; rows: unknown[] }[] }>(`${app.url}/api/plan?format=json`);
  expect(plan.schedules.find(({ name }) => name === "oslo-desks-hours")?.rows).toEqual([
    { day: ["mon", "tue", "wed", "thu", "fri"], spans: ["07:30-18:00"] },
    { day: "holidays", off: true },
    { day: "2027-03-12", off: true },
  ]);
  await post(`${app.url}/api/rounds`, { mode: "act" });
  await until(async () => runningOf(await app.osloDesks()) === 0);
  const text = await fetch(`${app.url}/api/schedules/oslo-desks-hours.ics`).then((response) => response.text());
  expect(text).toContain("EXDATE;TZID=Europe/Oslo:20270312T073000");
});

test("one press in Burn keeps a machine that would be stopped, and it is listed until it is released", async () => {
  const { browser } = app;
  await post(`${app.url}/api/clock`, { kind: "to", to: Date.UTC(2027, 2, 11, 8) / 1000 });
  await post(`${app.url}/api/rounds`, { mode: "act" });
  await until(async () => runningOf(await app.osloDesks()) > 20);
  // A start takes a minute or two of the clock.
  await post(`${app.url}/api/clock`, { kind: "to", to: Date.UTC(2027, 2, 11, 8, 10) / 1000 });
  await until(async () =>
    (await app.osloDesks()).some(({ name, state }) => name.startsWith("desk-osl-0") && state === "running"),
  );
  await browser.open("/?filter=desk-osl-0");
  const [desk] = (await app.osloDesks()).filter(({ name, state }) => name.startsWith("desk-osl-0") && state === "running");
  await (await browser.at(`//button[@aria-label="keep 4 h: ${desk?.name}"]`)).click();
  await browser.sees(new RegExp(`${desk?.name} is kept on until Thu 11 Mar 13:1`));
  await browser.sees(/held on to 13:1/);
  await browser.open("/rounds");
  await browser.sees(new RegExp(`${desk?.name}\\s+on until`));
  await (await browser.at(`//a[.="${desk?.name}"]`)).click();
  await browser.sees(/Due now: on, by hold on the resource/);
  await browser.choose("Keep it", "off");
  await browser.type("Until, Oslo time", "2027-03-15 25:00");
  await browser.sees("write it as 2027-03-11 22:00");
  await (await browser.button("until Monday 08:00")).click();
  expect(await typedIn("Until, Oslo time")).toBe("2027-03-15 08:00");
  await browser.type("Why", "repair");
  await (await browser.button("Place hold")).click();
  await browser.sees(/Due now: off, by hold on the resource/);
  await until(async () => (await app.osloDesks()).find(({ name }) => name === desk?.name)?.state !== "running");
  await (await browser.at(`//button[@aria-label="Release the hold on ${desk?.name}"]`)).click();
  await browser.sees(/Due now: on/);
});

test("a machine answers as of another instant, clock change and all", async () => {
  const { browser } = app;
  await browser.type("As of, Oslo time", "2027-03-28 02:30");
  await (await browser.button("Show")).click();
  // That time does not occur: it counts with the offset before the gap.
  await browser.sees("Due as of Sun 28 Mar 03:30 Oslo: off, by hours");
  await browser.type("As of, Oslo time", "2027-03-26 20:00");
  await (await browser.button("Show")).click();
  await browser.sees("The clock goes forward before this edge: 1 h lost.");
  await (await browser.at("//a[.='back to now']")).click();
  await browser.sees(/Due now/);
});

test("a calendar takes holidays by hand, from a file and from a list, and says whom it moves before it is saved", async () => {
  const { browser } = app;
  await browser.open("/calendars/oslo");
  await (await browser.at("//button[contains(@aria-label, '2027-03-15, workday')]")).click();
  await browser.sees("mon 2027-03-15");
  const picker = "//input[@type='file']";
  await upload(picker, file("broken.ics", "BEGIN:VCALENDAR\r\nnothing"));
  await browser.sees("broken.ics, line 1: not a calendar file");
  await upload(picker, file("large.ics", "x".repeat(10_000_000)));
  await browser.sees("large.ics, line 1: the file has 10.0 MB");
  await browser.sees("mon 2027-03-15");
  const quay =
    "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20270601\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:Quay day\r\nEND:VEVENT\r\nEND:VCALENDAR";
  await upload(picker, file("quay.ics", quay));
  await browser.sees("6 days taken from quay.ics");
  await browser.sees("Quay day");
  await browser.choose("A country's public holidays", "Norway");
  await (await browser.button("Take")).click();
  await browser.sees(/\d+ days taken from the list of Norway/);
  await (await browser.button("Save")).click();
  await browser.sees("Followed by archive-index (2). The next round changes nothing by it.");
  await (await browser.button("Save it")).click();
  await browser.sees("used by archive-cores");
  await browser.driver.navigate().refresh();
  await browser.sees("Quay day");
});

test("a new calendar rests on other days, and is taken away again while no schedule uses it", async () => {
  const { browser } = app;
  await browser.open("/calendars/new");
  await browser.type("Name", "quay");
  await (await browser.at("//fieldset//button[.='fri']")).click();
  await browser.type("Date or date..date", "2027-06-05..2027-06-01");
  await browser.sees("runs backwards");
  await browser.type("Date or date..date", "2027-06-01..2027-06-02");
  await browser.type("Name", "quay");
  await (await browser.button("Add")).click();
  await browser.sees("2 holidays in 2027");
  await (await browser.button("Save")).click();
  await browser.sees("No machine in force follows it");
  await (await browser.button("Save it")).click();
  await browser.sees("Calendar quay");
  await browser.open("/setup");
  await browser.sees(/quay\s+fri, sat, sun\s+1/);
  await browser.open("/calendars/quay");
  await (await browser.at("//button[@aria-label='Remove quay']")).click();
  await (await browser.button("Remove quay for good")).click();
  await browser.sees("accounts at 2 providers");
});

test("hours named by tag show what each machine says, and a plan file with a mistake is told by its line", async () => {
  const { browser } = app;
  await browser.open("/fleets/5");
  await browser.sees("What the tags say");
  await browser.sees(/names no hours; the nearest is/);
  await browser.open("/setup");
  await upload(
    "//label[.='Take in a plan file']/following::input[1]",
    file("plan.yaml", "umbrik: 1\nschedules:\n  - { name: a, zone: Europe/Olso, rows: [] }\n"),
  );
  await browser.sees(/3:\d+ schedules\[0\]\.zone: "Europe\/Olso" is not a time zone/);
});

test("a plan file is taken in after a look at what it does, and a schedule that nobody uses goes after a second press", async () => {
  const { browser } = app;
  const plan = `umbrik: 1
schedules:
  - { name: spare, zone: Europe/Oslo, rows: [{ day: daily, spans: ["10:00-11:00"] }] }
fleets:
  - { name: watch, select: has watch }
`;
  await upload("//label[.='Take in a plan file']/following::input[1]", file("plan.yaml", plan));
  await browser.sees("New: schedule spare, fleet watch.");
  await browser.sees("The next round stops 0, starts 0.");
  await (await browser.button("Take it in")).click();
  await browser.sees("Taken in. Fleets are drafts");
  await browser.open("/schedules");
  await browser.sees(/spare\s+Oslo, no calendar\s+10:00-11:00\s+△ nobody/);
  await (await browser.at("//button[@aria-label='Remove spare']")).click();
  await (await browser.button("Remove spare for good")).click();
  await browser.sees("each of them used");
});

test("a whole fleet is held from its workbench, and released", async () => {
  const { browser } = app;
  await browser.open("/fleets/2");
  // What is reckoned above pushes the button down when it comes.
  await browser.sees(/As painted/);
  await browser.sees("Against the plan in force");
  await (await browser.at("//button[contains(., 'Holds')]")).click();
  await browser.sees("Place hold");
  // Keeping it on as the form begins lowers none of its databases.
  expect(await typedIn("At level")).toBe("6");
  await browser.type("At level", "3");
  await browser.type("Why", "stocktaking");
  await (await browser.button("Place hold")).click();
  await browser.sees(/fleet archive-index\s+level 3 until/);
  await browser.open("/?filter=archive-index");
  await browser.sees("held on to");
  await browser.open("/rounds");
  await (await browser.at("//button[@aria-label='Release the hold on archive-index']")).click();
  await browser.sees(/The last \d that ended/);
});

test("a week is copied with another zone and calendar, and machines may name their own hours", async () => {
  const { browser } = app;
  await browser.open("/fleets/3");
  await (await browser.button("Copy another")).click();
  await browser.choose("Copy of", "archive-cores");
  await browser.type("Zone of the copy", "Pacific/Auckland");
  await browser.choose("Calendar of the copy", "auckland");
  await (await browser.button("Make the copy")).click();
  expect(await typedIn("Calendar")).toBe("auckland");
  await browser.sees(/Level 12 is more than \d+ of these can have/);
  await browser.choose("Schedule", "named by each machine's tag");
  await browser.type("Tag that names the hours", "owner");
  await browser.sees(/names no hours/);
  await (await browser.button("Undo")).click();
});

test("fleets are ranked by keys after a look at who changes hands, renamed, copied, retired and brought back", async () => {
  const { browser } = app;
  await browser.open("/fleets");
  await browser.sees(/1\s+harbour[\s\S]*2\s+archive-index/);
  const handle = await browser.field("Rank of archive-index: 2. Arrow keys move it.");
  await handle.sendKeys(Key.ARROW_UP);
  await browser.sees(/1\s+archive-index[\s\S]*No machine changes hands/);
  await browser.type("Why", "the index first");
  await (await browser.button("Rank so")).click();
  await browser.sees(/1\s+archive-index[\s\S]*2\s+harbour/);
  const more = async (name: string, item: string) => {
    await (await browser.at(`//button[@aria-label='More of ${name}']`)).click();
    await (await browser.at(`//*[@role='menuitem'][starts-with(., '${item}')]`)).click();
  };
  await more("training", "Rename");
  await browser.type("Name", "HARBOUR");
  await (await browser.button("Rename")).click();
  await browser.sees('there is a fleet "HARBOUR" already');
  await browser.type("Name", "classrooms");
  await (await browser.button("Rename")).click();
  await browser.sees(/\d\s+classrooms/);
  await more("classrooms", "Retire");
  await browser.sees("It looks after nothing any more");
  await browser.type("Why", "the course is over");
  await (await browser.button("Retire")).click();
  await browser.sees("1 retired");
  await (await browser.at("//summary[contains(., '1 retired')]")).click();
  await (await browser.button("Bring classrooms back")).click();
  await browser.sees(/\d\s+classrooms\s+team = training/);
  await more("classrooms", "Copy");
  await browser.sees("classrooms-copy");
  await until(async () => (await browser.driver.getTitle()) === "classrooms-copy · Umbrik");
  await browser.open("/fleets");
  await browser.sees(/\d\s+classrooms-copy\s+team = training/);
});
