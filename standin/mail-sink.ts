import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import type { ServerResponse } from "node:http";
import { join } from "node:path";
import { SMTPServer } from "smtp-server";
import { send } from "./http/answer";
import { Refusal } from "./world/verbs";

/** Takes every mail it is sent and writes it, as it came, to a file of its own. Delivers nothing. */
export function mailSink(folder: string): SMTPServer {
  mkdirSync(folder, { recursive: true });
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
        writeFileSync(join(folder, name), Buffer.concat(parts));
        done();
      });
    },
  });
}

/** Over HTTP: the names of the mails, newest first, or one of them as it came. */
export function sunkMail(folder: string, response: ServerResponse, name: string | undefined): void {
  const names = readdirSync(folder)
    .filter((file) => file.endsWith(".eml"))
    .sort()
    .reverse();
  if (name === undefined) {
    const mails = names.slice(0, 200).map((file) => ({ name: file, at: statSync(join(folder, file)).mtime.toISOString() }));
    send(response, 200, { mails });
    return;
  }
  if (!names.includes(name)) throw new Refusal(404, "not_found", `no mail ${name}`);
  response.writeHead(200, { "content-type": "message/rfc822" });
  response.end(readFileSync(join(folder, name)));
}
