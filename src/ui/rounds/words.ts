import type { ActionLine, DecisionGroup } from "@/services/rounds";
import { durationWords } from "../kit/duration-words";

const DONE: Record<ActionLine["verb"], string> = {
  start: "started",
  stop: "stopped",
  hibernate: "hibernated",
  resize: "resized",
};

/** What was asked for, in words. */
export function actionWords({ verb, level }: Pick<ActionLine, "verb" | "level">): string {
  return verb === "resize" ? `resize to ${level}` : verb;
}

/** How many tries it took, and how long. */
export function tookWords({ attempts, sentAt, endedAt }: Pick<ActionLine, "attempts" | "sentAt" | "endedAt">): string {
  const seconds = sentAt === null || endedAt === null ? null : endedAt - sentAt;
  const parts = [attempts > 1 ? `${attempts} tries` : "", seconds === null ? "" : `seen after ${durationWords(seconds)}`].filter(
    Boolean,
  );
  return parts.length === 0 ? "" : `, ${parts.join(", ")}`;
}

/** `28 stopped: outside their hours`: what a round decided for a group of machines. */
export function groupWords({ verdict, verb, wanted, count }: DecisionGroup, isRehearsal: boolean): string {
  const many = `${count} ${count === 1 ? "machine" : "machines"}`;
  switch (verdict) {
    case "act": {
      const done = verb === null ? "acted on" : verb === "resize" ? `resized to ${wanted}` : DONE[verb];
      return isRehearsal ? `${many} would be ${done}` : `${many} ${done}`;
    }
    case "braked":
      return `${many} held back from stopping`;
    case "waiting":
      return `${many} waiting`;
    case "as due":
      return `${many} as due`;
    case "left":
      return `${many} left`;
  }
}
