import { createServer } from "node:net";

/** `wanted` if it is free on `host`, else any free port. */
export async function freePort(wanted = 0, host = "127.0.0.1") {
  return (await tryPort(wanted, host)) ?? (await tryPort(0, host));
}

function tryPort(port, host) {
  return new Promise((resolve) => {
    const server = createServer();
    server.once("error", () => resolve(null));
    server.listen(port, host, () => {
      const { port: taken } = server.address();
      server.close(() => resolve(taken));
    });
  });
}
