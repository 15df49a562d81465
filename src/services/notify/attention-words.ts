import { whyNotReplaced } from "@/core/mix";
import { lackWords } from "@/core/rounds";
import type { Attention } from "../rounds";

/** What needs a person as a sentence without times, for a mail's subject and an event; and what tells it from others. */
export function attentionWords(line: Attention): Readonly<{ key: string; text: string; path: string }> {
  switch (line.kind) {
    case "paused": {
      const { id, account, person, reason } = line.pause;
      const where = account === null ? "" : ` in ${account}`;
      return { key: `paused ${id}`, text: `Rounds are paused${where} by ${person}: ${reason}`, path: "/rounds" };
    }
    case "failing":
      return { key: "failing", text: `Rounds fail, and nothing is stopped or started: ${line.error}`, path: "/rounds" };
    case "held":
      // One question, however many rounds it is asked in.
      return { key: "held", text: `${line.stops} stops are held until a person lets them go`, path: `/rounds/${line.round}` };
    case "doubted":
      return {
        key: `doubted ${line.account} ${line.doubt.since}`,
        text: `The listing of ${line.account} is doubted: ${lackWords(line.lack)}`,
        path: "/rounds",
      };
    case "missing": {
      const verb = line.count === 1 ? "is" : "are";
      return {
        key: `missing ${line.fleet}`,
        text: `${line.count} of ${line.fleet} should be on and ${verb} not: ${namesOf(line)}; its provider says: ${line.why}`,
        path: `/rounds?search=${encodeURIComponent(line.fleet)}`,
      };
    }
    case "unhealthy":
      return {
        key: `unhealthy ${line.fleet}`,
        text: `${line.count} of ${line.fleet} ${line.count === 1 ? "is" : "are"} unhealthy and not replaced: ${namesOf(line)}. ${whyNotReplaced(line.care)}`,
        path: `/rounds?search=${encodeURIComponent(line.fleet)}`,
      };
    case "unread":
      return line.part === null
        ? { key: `unread ${line.account}`, text: `${line.account} cannot be read: ${line.error}`, path: "/setup" }
        : {
            key: `unread ${line.account} ${line.part}`,
            text: `The ${line.part} of ${line.account} cannot be read: ${line.error}`,
            path: "/setup",
          };
    case "set aside":
      return {
        key: `set aside ${line.account}`,
        text: `${line.odd.length} in the listing of ${line.account} cannot be understood`,
        path: "/setup",
      };
  }
}

/** A few names, and how many more there are. */
function namesOf({ names, count }: Readonly<{ names: readonly string[]; count: number }>): string {
  return `${names.join(", ")}${count > names.length ? ` and ${count - names.length} more` : ""}`;
}
