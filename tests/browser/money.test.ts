import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { By, Key } from "selenium-webdriver";
import { afterAll, beforeAll, expect, test } from "vitest";
import { type App, startApp } from "../support/app";
import { until } from "../support/patience";
import { post } from "../support/world";

let app: App;
let folder: string;
beforeAll(async () => {
  app = await startApp();
  folder = mkdtempSync(join(tmpdir(), "umbrik-money-"));
  await post(`${app.standinUrl}/clock`, { rate: 0 });
  await app.browser.open("/");
  await app.browser.sees(/1\d\d running/);
});
afterAll(async () => {
  await app?.close();
  if (folder) rmSync(folder, { recursive: true, force: true });
});

const sentence = () => app.browser.driver.findElement(By.css("[data-testid=sentence]")).getText();
const address = async () => new URL(await app.browser.driver.getCurrentUrl());

test("filters are chips in the address: added, kept over a reload, taken away one by one", async () => {
  const { browser } = app;
  await browser.type("Filter", "region = tasman-2");
  await (await browser.button("Filter")).click();
  await browser.sees("region = tasman-2", "[aria-label='Filters in use']");
  await browser.type("Filter", "sonar");
  await (await browser.button("Filter")).click();
  await browser.sees("sonar", "[aria-label='Filters in use']");
  await until(async () => (await address()).searchParams.getAll("filter").length === 2);
  await browser.driver.navigate().refresh();
  await browser.sees(/Shown: \d+/);
  const names = await browser.driver.findElements(By.xpath("//*[@role='row']//a[not(contains(@href, '/cost'))]"));
  for (const name of names) expect(await name.getText()).toMatch(/^sonar-nz/);
  await (await browser.at("//button[@aria-label='Remove the filter sonar']")).click();
  await until(async () => (await address()).searchParams.getAll("filter").join() === "region = tasman-2");
  await browser.choose("Group by", "tag payer");
  await browser.sees("south-office");
  await (await browser.at("//button[starts-with(@aria-label, 'only these')]")).click();
  await until(async () => (await address()).searchParams.getAll("filter").includes("tag:payer = south-office"));
  const link = await browser.driver.findElement(By.linkText("Save as CSV")).getAttribute("href");
  const csv = await (await fetch(link ?? "")).text();
  expect(csv.split("\r\n")[0]).toContain("per_hour");
  expect(csv).not.toContain("fjord-1");
});

test("the strip is moved by key, by edge and by dragging, the whole application follows, and comes back to now", async () => {
  const { browser } = app;
  await browser.open("/");
  await browser.sees(/1\d\d running/);
  const now = await sentence();
  // The strip comes a moment after the page.
  await browser.at("//*[@role='slider'][@aria-label='As of']");
  const slider = await browser.driver.findElement(By.css("[role=slider][aria-label='As of']"));
  await slider.sendKeys(Key.ARROW_LEFT);
  await browser.sees("as of Thu 11 Mar 2027 05:00 Oslo");
  expect((await address()).searchParams.get("at")).toBe("2027-03-11T04:00:00Z");
  await browser.sees(/\d+ ran/);
  await (await browser.at("//nav[@aria-label='Places']//a[.='Fleets']")).click();
  await browser.sees("fleets");
  await browser.sees("as of Thu 11 Mar 2027 05:00 Oslo");
  await (await browser.at("//nav[@aria-label='Places']//a[.='Burn']")).click();
  await browser.sees(/\d+ ran/);

  await (await browser.at("//button[.='back to now']")).click();
  await browser.sees(/1\d\d running/);
  await (await browser.at("//button[.='edge ▸'][not(@disabled)]")).click();
  await browser.sees(/as of .* Oslo/);
  await browser.sees(/\d+ due to run/);
  const edge = (await address()).searchParams.get("at");
  // The edge after it is known once the strip has followed: pressed before that, it leads to the same again.
  await until(async () => {
    await (await browser.at("//button[.='edge ▸'][not(@disabled)]")).click();
    return (await address()).searchParams.get("at") !== edge;
  });

  const bars = await browser.driver.findElement(By.css("[role=slider][aria-label='As of']"));
  const { width } = await bars.getRect();
  await browser.driver
    .actions()
    .move({ origin: bars, x: 0 })
    .press()
    .move({ origin: bars, x: -Math.round(width / 4) })
    .release()
    .perform();
  await until(async () => ((await address()).searchParams.get("at") ?? "") !== edge);
  await (await browser.at("//a[.='back to now']")).click();
  await until(async () => (await sentence()) === now);
});

test("two zones are shown one above the other, and stay chosen", async () => {
  const { browser } = app;
  await browser.choose("And in", "Auckland");
  await browser.sees("Thu 11 Mar 18:00");
  await browser.driver.navigate().refresh();
  await browser.sees("Thu 11 Mar 18:00");
  await browser.choose("And in", "+ zone");
});

test("a stray is stopped after a word of why, another is said to be meant, and the list says so", async () => {
  const { browser } = app;
  await (await browser.at("//p[@data-testid='strays-line']//a")).click();
  await browser.sees("2 machines shut down from inside, and billed still");
  await (await browser.at("//button[@aria-label='stop it: sonar-nz-03']")).click();
  await browser.type("Why, sonar-nz-03", "left on");
  await (await browser.button("Stop sonar-nz-03")).click();
  await browser.sees("1 machine shut down from inside, and billed still");
  await (await browser.at("//button[@aria-label='it is meant: disk-007']")).click();
  await browser.type("Why, disk-007", "kept for the archive");
  await (await browser.button("Mark as meant")).click();
  await browser.sees("7 disks without a machine");
  await browser.sees("1 said to be meant");
});

test("a price is set by hand and goes back; a commitment with a wrong field keeps what was typed", async () => {
  const { browser } = app;
  await browser.open("/prices");
  await browser.type("Find a price", "fjord-1 | compute | lantern");
  await (await browser.at("//button[contains(@aria-label, 'lantern-8 |  | firm')]")).click();
  await browser.type("Rate per hour", "1,5");
  await (await browser.button("Set by hand")).click();
  await browser.sees('"1,5": expected a decimal');
  await browser.type("Rate per hour", "0.99");
  await (await browser.button("Set by hand")).click();
  await browser.sees("by hand; told 1.142");
  await browser.sees("1 of them set by hand");
  await (await browser.button("Enter a commitment")).click();
  await browser.type("Of provider", "norrhav");
  await browser.type("Region", "fjord-1");
  await browser.type("Size", "brig-16");
  await browser.type("Units", "two");
  await (await browser.button("Enter it")).click();
  await browser.sees('units "two": expected a whole number');
  expect(await (await browser.field("Size")).getAttribute("value")).toBe("brig-16");
});

test("a reader is asked, confirms by the link in the mail, and gets a report that can be read in the application", async () => {
  const { browser } = app;
  await browser.open("/reports");
  await browser.sees("to nobody yet");
  await browser.sees(/Evening report: 1\d\d running/, "[data-testid=subject]");
  await browser.type("Address", "not an address");
  await (await browser.button("Ask them")).click();
  await browser.sees("expected one address");
  await browser.type("Address", "m.skarv@skerrywick.example");
  await (await browser.button("Ask them")).click();
  await browser.sees("asked, has not confirmed");
  await browser.open("/reports/mails");
  await browser.sees("What the demo's mail sink took");
  await until(async () => {
    await browser.driver.navigate().refresh();
    return (await browser.driver.findElements(By.css("iframe"))).length > 0;
  });
  const html = await browser.driver.executeScript<string>("return document.querySelector('iframe').srcdoc");
  const link = /href="([^"]*\/mail\/confirm[^"]*)"/.exec(html)?.[1] ?? "";
  await browser.driver.get(link.replaceAll("&#38;", "&"));
  await (await browser.button("Yes, send it to me")).click();
  await browser.sees('gets "Evening report" from now on');
  await browser.open("/reports");
  await (await browser.button("send one now")).click();
  await browser.sees("1 mail is on the way");
  await browser.open("/reports/mails");
  await until(async () => {
    await browser.driver.navigate().refresh();
    const text = await browser.driver.findElement(By.css("body")).getText();
    return (text.match(/Evening report: 1\d\d running/g) ?? []).length >= 2;
  });
});

test("a FOCUS file is taken in in the background, its refused lines are named, and it is taken back whole", async () => {
  const { browser } = app;
  const file = join(folder, "bill.csv");
  const line = (cost: string) => `EUR,${cost},Usage,2027-03-09T00:00:00Z,2027-03-10T00:00:00Z,r-1`;
  const header = "BillingCurrency,BilledCost,ChargeCategory,ChargePeriodStart,ChargePeriodEnd,ResourceId";
  writeFileSync(file, [header, line("1.5"), line("-2"), line("0.25")].join("\n"));
  await browser.open("/usage");
  await (await browser.field("Take in a FOCUS CSV")).sendKeys(file);
  await browser.sees("2 lines taken, 1 refused, 1.75 EUR billed");
  await (await browser.at("//a[contains(., 'bill.csv')]")).click();
  await browser.sees("BilledCost -2 is below zero");
  await browser.open("/usage");
  await (await browser.field("Take in a FOCUS CSV")).sendKeys(file);
  await browser.sees("This file counts already");
  await (await browser.button("take it back")).click();
  await browser.sees("taken back");
});

test("a chart is saved as PNG and as SVG, and a page is printed without what can be pressed", async () => {
  const { browser } = app;
  // The types know Chromium's own commands not.
  await (browser.driver as unknown as { setDownloadPath: (path: string) => Promise<void> }).setDownloadPath(folder);
  await browser.open("/fleets/2");
  await (await browser.at("//button[starts-with(@aria-label, 'save PNG')]")).click();
  await (await browser.at("//button[starts-with(@aria-label, 'save SVG')]")).click();
  await until(
    async () =>
      readdirSync(folder).some((name) => name.endsWith(".svg")) && readdirSync(folder).some((name) => name.endsWith(".png")),
  );
  const name = readdirSync(folder).find((one) => one.endsWith(".svg")) ?? "";
  expect(readFileSync(join(folder, name), "utf8")).toContain("<svg");
  await browser.open("/usage");
  await browser.sees("FOCUS files");
  const pdf = Buffer.from((await browser.driver.printPage({} as never)) as unknown as string, "base64");
  expect(pdf.subarray(0, 5).toString()).toBe("%PDF-");
  expect(pdf.length).toBeGreaterThan(5000);
});
