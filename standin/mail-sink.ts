import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { SMTPServer } from "smtp-server";

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
