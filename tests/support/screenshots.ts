import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { type App, startApp } from "./app";
import { get, post } from "./world";

const FOLDER = "docs/screenshots";
const WHO = "team = draughting and region = fjord-1";

/** Takes one picture of each main view, from the demo as it begins and a few steps of the main job. */
const app = await startApp();
try {
  mkdirSync(FOLDER, { recursive: true });
  await takeAll(app);
} finally {
  await app.close();
}

async function takeAll({ browser, url }: App): Promise<void> {
  const save = async (name: string) => {
    // A moment for fonts and the strip, which comes after the page.
    await browser.sees(/this hour|Money per hour/);
    await new Promise((resolve) => setTimeout(resolve, 600));
    writeFileSync(join(FOLDER, `${name}.png`), Buffer.from(await browser.driver.takeScreenshot(), "base64"));
  };
  const theme = (value: string) => browser.driver.manage().addCookie({ name: "umbrik-theme", value });

  await browser.open("/");
  await browser.sees(/\d{3} running/);
  await save("burn");

  await browser.open("/fleets/new");
  await browser.type("Name", "draughting-oslo");
  await browser.type("Who", "team = draughting and stage = prdo");
  await browser.sees("the nearest known is prod");
  await save("new-fleet");

  const { body } = await post(`${url}/api/fleets`, { name: "draughting-oslo", select: WHO });
  const { id } = body as { id: number };
  await browser.open(`/fleets/${id}`);
  await (await browser.button("New week")).click();
  await browser.choose("Bricks", "30 min");
  await browser.paint(0, 450, 450);
  await (await browser.button("fri")).click();
  await browser.paint(1, 900, 1050);
  await browser.sees("draft kept");
  await browser.driver.executeScript("window.scrollTo(0, 0)");
  await save("workbench");
  await theme("dark");
  const { body: lab } = await post(`${url}/api/fleets`, { name: "sonar-lab", select: "team = sonar-lab and region = fjord-1" });
  await browser.open(`/fleets/${(lab as { id: number }).id}`);
  await (await browser.at("//h2/button[contains(., 'Quiet')]")).click();
  await (await browser.button("Nothing is computed")).click();
  await browser.sees(/by 3 whole weeks/);
  await (await browser.button("Try 8")).click();
  await browser.sees(/a week: take/);
  await browser.driver.executeScript("document.querySelector('[aria-label=\"What it would have done\"]').scrollIntoView()");
  await save("quiet");
  await theme("light");
  await browser.open(`/fleets/${id}`);
  await (await browser.button("Put in force")).click();
  await browser.type("Why", "nobody draws at six");
  await browser.sees("Next day");
  await save("put-in-force");
  await (await browser.button("Put in force and stop")).click();
  await browser.sees("In force. The next round goes by it");

  await browser.open("/rounds");
  await (await browser.button("Run now")).click();
  await browser.sees(/sent \d+ actions/);
  await save("rounds");
  await (await browser.at("//tr[contains(., 'actions')]//a")).click();
  await browser.sees("Asked by");
  await save("round");
  await browser.open("/fleets");
  await save("fleets");
  const { body: tiles } = await post(`${url}/api/fleets`, { name: "viewer-tiles", select: "name = viewer-tiles-north" });
  await browser.open(`/fleets/${(tiles as { id: number }).id}`);
  await (await browser.at("//h2/button[contains(., 'Mix')]")).click();
  await (await browser.button("Try a mix")).click();
  await browser.sees(/2000 trials; the spans/);
  await browser.driver.executeScript(
    "const own = document.querySelector('[aria-label=\"Firm units\"]').closest('section'); own.parentElement.scrollTop = own.offsetTop - 120",
  );
  await save("mix");
  await browser.open("/calendars/oslo");
  await browser.sees("holidays in 2027");
  await save("calendar");
  await browser.open("/fleets/2");
  await browser.sees(/As painted/);
  await (await browser.at("//button[@aria-label='A week later']")).click();
  await (await browser.at("//button[@aria-label='A week later']")).click();
  await browser.driver.executeScript('document.querySelector(\'[aria-label="Effective week"] [data-day="6"]\').focus()');
  await browser.sees("23 hours");
  await save("wall");
  await browser.open("/odd");
  await browser.sees("the dearest first");
  await save("odd");
  await browser.open("/?at=2027-03-16T20:00:00Z&group=region");
  await browser.sees("due to run");
  await save("burn-as-of");
  await browser.open("/reports");
  await browser.sees(/Evening report: 1\d\d running/, "[data-testid=subject]");
  await save("reports");
  await browser.open("/prices");
  await browser.sees("138 prices");
  await save("prices");
  const { lines } = await get<{ lines: { id: string }[] }>(`${url}/api/burn?filter=archive-index-01`);
  await browser.open(`/machines/${lines[0]?.id}?at=2027-03-26T20:00:00Z`);
  await browser.sees("1 h lost");
  await save("machine");
  await browser.open(`/machines/${lines[0]?.id}/cost`);
  await browser.sees("Rates are those of the price book");
  await save("machine-cost");
  // Some days on, by two hours at a time, so that days are over and were lived by the plans.
  for (let now = Date.UTC(2027, 2, 11, 8); now <= Date.UTC(2027, 2, 15, 2); now += 2 * 3_600_000) {
    await post(`${url}/api/clock`, { kind: "to", to: now / 1000 });
    await browser.driver.sleep(700);
  }
  await browser.open("/usage");
  await browser.sees(/agree with the meter/);
  await save("usage");
  for (let i = 0; i < 60; i++) {
    await browser.open("/reports/realised");
    if (/2027-03-14, by UTC/.test(await browser.driver.findElement({ css: "body" }).getText())) break;
    await browser.driver.sleep(500);
  }
  await save("realised");
}
