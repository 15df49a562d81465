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
    await browser.sees(/this hour/);
    await new Promise((resolve) => setTimeout(resolve, 600));
    writeFileSync(join(FOLDER, `${name}.png`), Buffer.from(await browser.driver.takeScreenshot(), "base64"));
  };
  const theme = (value: string) => browser.driver.manage().addCookie({ name: "umbrik-theme", value });

  await browser.open("/");
  await browser.sees(/\d{3} running/);
  await save("burn");
  await browser.open("/?group=region&open=terai-1");
  await save("burn-by-region");

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
  await browser.open(`/fleets/${id}`);
  await browser.sees(/Saves/);
  await save("workbench-dark");
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
  await browser.open("/setup");
  await save("setup");
  await browser.open("/schedules");
  await browser.sees("Calendar to subscribe to");
  await save("schedules");
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
  const { lines } = await get<{ lines: { id: string }[] }>(`${url}/api/burn?filter=archive-index-01`);
  await browser.open(`/machines/${lines[0]?.id}?at=2027-03-26T20:00:00Z`);
  await browser.sees("1 h lost");
  await save("machine");
}
