import { Key } from "selenium-webdriver";
import { openBrowser } from "../tests/support/browser";
import type { BenchDemo } from "./demo";
import { middle, report } from "./measure";

const SETTLED_MS = 500;
const RUNS = 3;

/** A press, and what a person waits to see after it. */
type Press = Readonly<{ name: string; at: string; press: string; settled: string }>;

/** What is pressed, as an XPath, and what has to be there afterwards. */
const PRESSES: readonly Press[] = [
  { name: "to Fleets", at: "/", press: "//nav//a[.='Fleets']", settled: "//h1[contains(., 'fleets,')]" },
  {
    name: "a fleet's workbench",
    at: "/fleets",
    press: "//a[.='archive-index']",
    settled: "//aside//*[contains(., 'EUR a month')]",
  },
  { name: "to Rounds", at: "/", press: "//nav//a[.='Rounds']", settled: "//h2[contains(., 'Coming')] | //table//th[.='Round']" },
  { name: "to Reports", at: "/", press: "//nav//a[.='Reports']", settled: "//*[@data-testid='next']" },
  { name: "to Setup", at: "/", press: "//nav//a[.='Setup']", settled: "//h2[.='Accounts'] | //h2[.='Calendars']" },
  { name: "to Burn", at: "/setup", press: "//nav//a[.='Burn']", settled: "//*[@data-testid='sentence']" },
  { name: "to strays", at: "/", press: "//a[.='Strays']", settled: "//*[@data-testid='strays']" },
  { name: "what is odd", at: "/fleets", press: "//a[.='What is odd']", settled: "//h1[contains(., 'dearest')]" },
  { name: "all resources", at: "/", press: "//a[.='All resources']", settled: "//h1[contains(., 'resources, on and off')]" },
  {
    name: "a machine",
    at: "/",
    press: "//div[@role='row']//a[contains(@href, '/machines/')]",
    settled: "//h2[contains(., 'Its life')]",
  },
  { name: "Burn grouped by fleet", at: "/", press: "GROUP", settled: "//button[contains(., 'in no fleet')]" },
  {
    name: "put in force: the dialog",
    at: "/fleets/3",
    press: "//button[starts-with(., 'Put in force')]",
    settled: "//*[@data-testid='effects']",
  },
];

/** Twelve presses in Chromium, each from the press until what was asked for is there and nothing of the page changes any more. */
export async function benchFelt({ url }: BenchDemo): Promise<void> {
  const browser = await openBrowser(url);
  const { driver } = browser;
  try {
    // The yardstick: a page of the same server with next to nothing on it.
    const empty: number[] = [];
    for (let i = 0; i < RUNS; i++) {
      const begin = performance.now();
      await driver.get(`${url}/api/health`);
      empty.push(performance.now() - begin);
    }
    const yardstick = `an empty page of the same server, ${middle(empty).toFixed(0)} ms`;
    for (const { name, at, press, settled } of PRESSES) {
      const times: number[] = [];
      for (let i = 0; i < RUNS; i++) {
        await browser.open(at);
        if (press !== "GROUP") await browser.at(press);
        await driver.sleep(1_200);
        await driver.executeScript(WATCH, press, settled);
        if (press === "GROUP") await browser.choose("Group by", "fleet");
        else await (await browser.at(press)).click();
        times.push(await driver.executeAsyncScript<number>(SETTLED));
        await driver.actions().sendKeys(Key.ESCAPE).perform();
      }
      report({
        name: `press to settled: ${name}`,
        figure: `${middle(times).toFixed(0)} ms`,
        target: `at most ${SETTLED_MS} ms`,
        isMet: middle(times) <= SETTLED_MS,
        yardstick,
      });
    }
  } finally {
    await browser.close();
  }
}

/** Notes when a press comes, when what is waited for is there, and when the page last changed. */
const WATCH = `
  const [, settled] = arguments;
  const state = { pressed: 0, there: 0, changed: 0 };
  window.__felt = state;
  const isThere = () => document.evaluate(settled, document, null, XPathResult.BOOLEAN_TYPE, null).booleanValue;
  const begin = () => { state.pressed = state.pressed || performance.now(); };
  for (const kind of ["pointerdown", "change"]) addEventListener(kind, begin, { capture: true, once: true });
  new MutationObserver((changes) => {
    if (!state.pressed) return;
    // The clock ticks whatever is pressed.
    if (changes.every(({ target }) => (target.parentElement ?? target).closest?.("[aria-label=Time]"))) return;
    state.changed = performance.now();
    if (!state.there && isThere()) state.there = state.changed;
  }).observe(document.body, { subtree: true, childList: true, characterData: true, attributes: true });
`;

/** Waits until nothing has changed for half a second after what was asked for is there. */
const SETTLED = `
  const done = arguments[arguments.length - 1];
  const state = window.__felt;
  const begin = performance.now();
  const look = () => {
    const now = performance.now();
    if (state.there && now - state.changed > 500) return done(Math.max(state.there, state.changed) - state.pressed);
    if (now - begin > 8000) return done(state.there ? state.changed - state.pressed : 8000);
    setTimeout(look, 50);
  };
  look();
`;
