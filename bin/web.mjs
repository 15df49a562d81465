#!/usr/bin/env node
// The web application, as `next start` runs it, behind a door that knows its verbs. Usage: node bin/web.mjs [-H ADDRESS] [-p PORT]
import { createServer } from "node:http";
import { parseArgs } from "node:util";
import next from "next";
import { ROOT } from "./lib/paths.mjs";
import { giveUp } from "./lib/say.mjs";

/** Any other verb is refused here: the framework falls over those that a web request cannot have, TRACE for one. */
const VERBS = new Set(["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"]);
/** As long as the framework's own server keeps an idle connection. */
const KEEP_ALIVE_MS = 5_000;

const { values } = parseArgs({
  options: {
    host: { type: "string", short: "H", default: "127.0.0.1" },
    port: { type: "string", short: "p", default: "4780" },
  },
});
const port = Number(values.port);
if (!Number.isInteger(port) || port < 0 || port > 65_535) giveUp(`--port ${values.port}: expected a number`, 2);

const app = next({ dev: false, dir: ROOT, hostname: values.host, port });
await app.prepare();
const answer = app.getRequestHandler();
const server = createServer({ keepAliveTimeout: KEEP_ALIVE_MS }, (request, response) => {
  if (VERBS.has(request.method ?? "")) return void answer(request, response);
  response.writeHead(405, { allow: [...VERBS].join(", "), "content-type": "application/problem+json", connection: "close" });
  response.end(
    JSON.stringify({
      type: "about:blank",
      title: "Not allowed here",
      status: 405,
      code: "invalid",
      detail: `${request.method} is no verb that is answered here.`,
      fields: [],
    }),
  );
});
server.on("error", (error) => giveUp(`the web application cannot listen on port ${port}: ${error.message}`));
server.listen(port, values.host, () => console.log(`answering at http://${values.host}:${port}`));
for (const signal of ["SIGTERM", "SIGINT"]) {
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    // Streams to open pages never end by themselves.
    setTimeout(() => process.exit(0), 1_000).unref();
  });
}
