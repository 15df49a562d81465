import { rmSync } from "node:fs";
import { join } from "node:path";
import { ROOT } from "./paths.mjs";
import { freePort } from "./ports.mjs";
import { runNode, startNode, typescript } from "./processes.mjs";
import { keepRunning } from "./watch.mjs";

/**
 * Starts the stand-in clouds, the database's contents, the web application and the worker, in that
 * order. Returns the URL, and a function that stops them all, last started first.
 */
export async function startDemo({
  databaseUrl,
  state,
  isFresh = false,
  hasWorker = true,
  host = "127.0.0.1",
  port = 4780,
  giveUp = () => {},
}) {
  const stops = [];
  const stop = async () => {
    for (const one of [...stops].reverse()) await one();
  };
  const keep = (name, first, start) => stops.push(keepRunning({ name, first, start, giveUp }));
  try {
    if (isFresh) rmSync(join(state, "standin"), { recursive: true, force: true });
    const world = ["--state", join(state, "standin")];
    const standin = startNode(typescript("standin/main.ts", world));
    let isUp = false;
    // Until it listens its failure is this start's; after that it comes back where it was.
    stops.push(() => (isUp ? undefined : standin.stop()));
    const { port: standinPort, mailPort } = JSON.parse(await standin.firstLine);
    isUp = true;
    const sameAgain = [...world, "--port", String(standinPort), "--mail-port", String(mailPort)];
    keep("stand-in", standin, () => startNode(typescript("standin/main.ts", sameAgain)));
    const standinUrl = `http://127.0.0.1:${standinPort}`;
    const webPort = await freePort(port, host);
    const url = `http://${host === "0.0.0.0" ? "127.0.0.1" : host}:${webPort}`;
    const env = {
      DATABASE_URL: databaseUrl,
      UMBRIK_URL: process.env.UMBRIK_URL ?? url,
      UMBRIK_CLOCK_URL: `${standinUrl}/clock`,
      // Whoever tries it out has their Prometheus where the demo is.
      UMBRIK_LOCAL_SOURCES: process.env.UMBRIK_LOCAL_SOURCES ?? "allow",
      // A round a minute is no news in a terminal; what goes wrong is.
      UMBRIK_LOG: process.env.UMBRIK_LOG ?? "warn",
      // Mail goes to a server of one's own where one is set, and to the shipped sink otherwise.
      SMTP_URL: process.env.SMTP_URL ?? `smtp://127.0.0.1:${mailPort}`,
      ...(process.env.SMTP_URL ? {} : { UMBRIK_SINK_URL: `${standinUrl}/mail` }),
    };
    await runNode(typescript("demo/prepare.ts", ["--standin", standinUrl, ...(isFresh ? ["--fresh"] : [])]), env);

    const startWeb = () =>
      startNode([join(ROOT, "bin/web.mjs"), "-H", host, "-p", String(webPort)], {
        ...env,
        NODE_ENV: "production",
        NEXT_TELEMETRY_DISABLED: "1",
      });
    const web = startWeb();
    keep("web application", web, startWeb);
    if (hasWorker) {
      const startWorker = () => startNode(typescript("src/worker/main.ts"), env);
      const worker = startWorker();
      keep("worker", worker, startWorker);
      await worker.firstLine;
    }
    await answering(`${url}/api/health`, web);
    return { url, standinUrl, env, stop };
  } catch (error) {
    await stop();
    throw error;
  }
}

/** Waits until the application answers, or says why it cannot. */
async function answering(url, web) {
  let hasEnded = false;
  web.ended.then(() => {
    hasEnded = true;
  });
  for (let i = 0; i < 600; i++) {
    if (hasEnded) throw new Error("the web application ended before it answered");
    const response = await fetch(url).catch(() => null);
    if (response?.ok) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error("the web application did not answer within a minute");
}
