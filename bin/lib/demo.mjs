import { rmSync } from "node:fs";
import { join } from "node:path";
import { ROOT } from "./paths.mjs";
import { freePort } from "./ports.mjs";
import { runNode, startNode, typescript } from "./processes.mjs";

/**
 * Starts the stand-in clouds, the database's contents, the web application and the worker, in that
 * order. Returns the URL, and a function that stops them all, last started first.
 */
export async function startDemo({ databaseUrl, state, isFresh = false, hasWorker = true, host = "127.0.0.1", port = 4780 }) {
  const started = [];
  const stop = async () => {
    for (const one of [...started].reverse()) await one.stop();
  };
  try {
    if (isFresh) rmSync(join(state, "standin"), { recursive: true, force: true });
    const standin = startNode(typescript("standin/main.ts", ["--state", join(state, "standin")]));
    started.push(standin);
    const { port: standinPort, mailPort } = JSON.parse(await standin.firstLine);
    const standinUrl = `http://127.0.0.1:${standinPort}`;
    const webPort = await freePort(port, host);
    const url = `http://${host === "0.0.0.0" ? "127.0.0.1" : host}:${webPort}`;
    const env = {
      DATABASE_URL: databaseUrl,
      UMBRIK_URL: process.env.UMBRIK_URL ?? url,
      UMBRIK_CLOCK_URL: `${standinUrl}/clock`,
      // Mail goes to a server of one's own where one is set, and to the shipped sink otherwise.
      SMTP_URL: process.env.SMTP_URL ?? `smtp://127.0.0.1:${mailPort}`,
      ...(process.env.SMTP_URL ? {} : { UMBRIK_SINK_URL: `${standinUrl}/mail` }),
    };
    await runNode(typescript("demo/prepare.ts", ["--standin", standinUrl, ...(isFresh ? ["--fresh"] : [])]), env);

    const web = startNode([join(ROOT, "node_modules/next/dist/bin/next"), "start", "-H", host, "-p", String(webPort)], {
      ...env,
      NODE_ENV: "production",
      NEXT_TELEMETRY_DISABLED: "1",
    });
    started.push(web);
    if (hasWorker) {
      const worker = startNode(typescript("src/worker/main.ts"), env);
      started.push(worker);
      await worker.firstLine;
    }
    await answering(`${url}/api/health`, web);
    return { url, standinUrl, env, stop, processes: started };
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
