import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import type { ServerResponse } from "node:http";
import { join } from "node:path";
import PostalMime from "postal-mime";
import { SMTPServer } from "smtp-server";
import { send } from "./http/answer";
import { Refusal } from "./world/refusal";

/** Takes every mail it is sent and writes it, as it came, to a file of its own. Delivers nothing. */
export function mailSink(folder: string): SMTPServer {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  let count = 0;
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ["STARTTLS"],
    size: 10 * 1024 * 1024,
    onData(stream, _session, done) {
      const parts: Buffer[] = [];
      stream.on("data", (part: Buffer) => parts.push(part));
      stream.on("end", () => {
        if (stream.sizeExceeded) return done(new Error("the mail is larger than 10 MiB"));
        const name = `${new Date().toISOString().replace(/[:.]/g, "-")}-${String(++count).padStart(4, "0")}.eml`;
        writeFileSync(join(folder, name), Buffer.concat(parts), { mode: 0o600 });
        done();
      });
    },
  });
}

/** How many of the newest mails are read for a list. */
const LISTED = 30;

/** Over HTTP: the newest mails as a mail program would show them, or one of them as it came. */
export async function sunkMail(folder: string, response: ServerResponse, name: string | undefined): Promise<void> {
  const names = readdirSync(folder)
    .filter((file) => file.endsWith(".eml"))
    .sort()
    .reverse();
  if (name === undefined) {
    send(response, 200, { mails: await Promise.all(names.slice(0, LISTED).map((file) => readMail(folder, file))) });
    return;
  }
  if (!names.includes(name)) throw new Refusal(404, "not_found", `no mail ${name}`);
  response.writeHead(200, { "content-type": "message/rfc822" });
  response.end(readFileSync(join(folder, name)));
}

async function readMail(folder: string, name: string): Promise<unknown> {
  const path = join(folder, name);
  const { to = [], subject = "", html = "", text = "" } = await PostalMime.parse(readFileSync(path));
  return {
    name,
    at: statSync(path).mtime.toISOString(),
    to: to.map(({ address }) => address ?? "").join(", "),
    subject,
    html,
    text,
  };
}
