import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Builder, By, error, Key, until, type WebDriver, type WebElement } from "selenium-webdriver";
import chrome from "selenium-webdriver/chrome.js";
import { browserPrograms } from "../../bin/lib/debian.mjs";
import { within } from "./patience";

const WAIT_MS = within(90);
/** React has taken over the page that the server sent: what is pressed before is nobody's. */
const IS_AWAKE =
  "const all = [...document.querySelectorAll('button')]; return all.length > 0 && all.every((e) => Object.keys(e).some((k) => k.startsWith('__reactProps')))";

/** Something to press. Lists are drawn anew while one looks, so a press that meets an old element tries the new one. */
export type Pressable = Readonly<{ click: () => Promise<void> }>;

/** A headless Chromium with a page of 1280 x 800, and the gestures a person would make. */
export type Browser = Readonly<{
  driver: WebDriver;
  open: (path: string) => Promise<void>;
  /** The visible element for a label's text, an aria-label or a button's words. */
  field: (label: string) => Promise<WebElement>;
  button: (words: string) => Promise<Pressable>;
  /** The element at an XPath, once it is there. */
  at: (xpath: string) => Promise<Pressable>;
  type: (label: string, text: string) => Promise<void>;
  choose: (label: string, option: string) => Promise<void>;
  /** Waits until the page's text holds `text` (a string or a pattern), and returns all of it. */
  sees: (text: string | RegExp, css?: string) => Promise<string>;
  /** A brick of the week wall by the minute it begins at. */
  brick: (row: number, minute: number) => Promise<WebElement>;
  /** Drags from the brick that begins at one minute to the one that begins at another. */
  paint: (row: number, from: number, to: number) => Promise<void>;
  keys: (...keys: string[]) => Promise<void>;
  close: () => Promise<void>;
}>;

export async function openBrowser(base: string): Promise<Browser> {
  const programs = browserPrograms();
  if (!programs) throw new Error("Chromium and ChromeDriver are missing: run the tests with `npm test`");
  const profile = mkdtempSync(join(tmpdir(), "umbrik-chromium-"));
  const options = new chrome.Options();
  options.setChromeBinaryPath(programs.chromium);
  options.addArguments(
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--disable-dev-shm-usage",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-device-scale-factor=1",
    "--window-size=1280,950",
    `--user-data-dir=${profile}`,
  );
  const driver = await new Builder()
    .forBrowser("chrome")
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder(programs.chromedriver))
    .build();
  await driver.get(`${base}/api/health`);
  const [width, height] = await driver.executeScript<[number, number]>(
    "return [outerWidth - innerWidth, outerHeight - innerHeight]",
  );
  await driver
    .manage()
    .window()
    .setRect({ width: 1280 + width, height: 800 + height });

  const find = (by: By) => driver.wait(until.elementLocated(by), WAIT_MS, String(by));
  const quoted = (text: string) => (text.includes('"') ? `'${text}'` : `"${text}"`);
  const field = (label: string) =>
    find(By.xpath(`//*[@aria-label=${quoted(label)}] | //*[@id = //label[normalize-space()=${quoted(label)}]/@for]`));
  const at = async (xpath: string): Promise<Pressable> => {
    await find(By.xpath(xpath));
    return { click: () => pressed(driver, By.xpath(xpath)) };
  };
  const button = (words: string) => at(`//button[starts-with(normalize-space(.), ${quoted(words)}) and not(@disabled)]`);
  const brick = (row: number, at: number) => find(By.css(`[data-row="${row}"][data-minute="${at}"]`));

  return {
    driver,
    async open(path) {
      await driver.get(base + path);
      await driver.wait(() => driver.executeScript<boolean>(IS_AWAKE), WAIT_MS, `${path} did not come alive`);
    },
    field,
    button,
    at,
    type: (label, text) =>
      again(driver, async () => (await field(label)).sendKeys(Key.chord(Key.CONTROL, "a"), Key.BACK_SPACE, text)),
    choose: (label, option) =>
      again(driver, async () => {
        const select = await field(label);
        await select.findElement(By.xpath(`./option[starts-with(normalize-space(.), ${quoted(option)})]`)).click();
      }),
    async sees(text, css = "body") {
      const matches = (body: string) => (typeof text === "string" ? body.includes(text) : text.test(body));
      let last = "";
      await driver
        .wait(
          async () => {
            // An element may be drawn anew between finding and reading it.
            last = await driver
              .findElement(By.css(css))
              .getText()
              .catch(() => last);
            return matches(last);
          },
          WAIT_MS,
          `waiting to see ${text} in: ${last}`,
        )
        .catch(() => {
          throw new Error(`did not see ${text} in: ${last.slice(0, 3000)}`);
        });
      return last;
    },
    brick,
    async paint(row, from, to) {
      const [first, last] = [await brick(row, from), await brick(row, to)];
      await driver.executeScript("arguments[0].scrollIntoView({ block: 'center' })", first);
      await driver.actions().move({ origin: first }).press().move({ origin: last }).release().perform();
    },
    async keys(...keys) {
      await driver
        .actions()
        .sendKeys(...keys)
        .perform();
    },
    async close() {
      await driver.quit();
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

function pressed(driver: WebDriver, by: By): Promise<void> {
  return again(driver, async () => driver.findElement(by).click());
}

/** Does something to an element, and once more where that was drawn anew between finding it and reaching it. */
async function again(driver: WebDriver, work: () => Promise<void>): Promise<void> {
  for (const until = Date.now() + WAIT_MS; ; ) {
    try {
      await work();
      return;
    } catch (problem) {
      const isDrawnAnew =
        problem instanceof error.StaleElementReferenceError ||
        problem instanceof error.NoSuchElementError ||
        problem instanceof error.ElementClickInterceptedError;
      if (!isDrawnAnew || Date.now() > until) throw problem;
      await driver.sleep(50);
    }
  }
}
