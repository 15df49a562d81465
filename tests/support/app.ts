import { type Browser, openBrowser } from "./browser";
import { startOwnDemo } from "./own-demo";
import { get } from "./world";

export type Machine = { name: string; state: string; region: string; tags: Record<string, string> };

/** The whole application as `npm start` runs it, with a browser on it. */
export type App = Readonly<{
  url: string;
  standinUrl: string;
  /** What its processes run with: for services on the same database. */
  env: Readonly<Record<string, string>>;
  browser: Browser;
  /** The desks in Oslo as the cloud itself has them. */
  osloDesks: () => Promise<Machine[]>;
  close: () => Promise<void>;
}>;

export async function startApp(): Promise<App> {
  const demo = await startOwnDemo();
  const browser = await openBrowser(demo.url).catch(async (error: unknown) => {
    await demo.close();
    throw error;
  });
  return {
    url: demo.url,
    standinUrl: demo.standinUrl,
    env: demo.env,
    browser,
    osloDesks: async () => {
      const { resources } = await get<{ resources: Machine[] }>(`${demo.standinUrl}/norrhav/v1/resources`, "demo-key-desks");
      return resources.filter(({ name }) => name.startsWith("desk-osl"));
    },
    close: async () => {
      await browser.close();
      await demo.close();
    },
  };
}

export function runningOf(machines: readonly Machine[]): number {
  return machines.filter(({ state }) => state === "running" || state === "starting").length;
}
