import { join } from "node:path";
import { parseArgs } from "node:util";
import { standinServer } from "./http/server";
import { Keeper } from "./keeper";
import { mailSink } from "./mail-sink";
import { takeFolder } from "./take-folder";

/** `--state FOLDER --port N --mail-port N`; port 0 takes a free one. Says on stdout, in one JSON line, where it listens. */
const { values } = parseArgs({
  options: { state: { type: "string" }, port: { type: "string", default: "0" }, "mail-port": { type: "string", default: "0" } },
});
if (!values.state) throw new Error("--state: a folder to keep the world in");

const letGo = takeFolder(values.state);
const keeper = new Keeper(join(values.state, "world.json"));
// A world that begins here has people in it who go on with their work.
keeper.world.owners ??= true;
const mailFolder = join(values.state, "mail");
const server = standinServer(keeper, mailFolder);
const mail = mailSink(mailFolder);

server.listen(Number(values.port), "127.0.0.1", () => {
  const sink = mail.listen(Number(values["mail-port"]), "127.0.0.1", () => {
    console.log(JSON.stringify({ port: portOf(server), mailPort: portOf(sink) }));
  });
});

function portOf(listener: { address(): unknown }): number {
  return (listener.address() as { port: number }).port;
}

function stop(): void {
  keeper.saveNow();
  letGo();
  mail.close();
  server.close(() => process.exit(0));
  server.closeAllConnections();
}
process.on("SIGTERM", stop);
process.on("SIGINT", stop);
