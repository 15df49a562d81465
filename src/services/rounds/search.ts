import Papa from "papaparse";
import type { Outcome } from "@/core/rounds";
import { formatInstant, type Instant } from "@/core/time";
import { type ActionLine, searchActions } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";

export type { ActionLine };

export type JournalQuery = Readonly<{
  text: string;
  outcome: Outcome | "";
  from: Instant | null;
  to: Instant | null;
  before: number | null;
}>;

const PAGE = 100;
const EXPORT_MAX = 50_000;

/** What was done, by machine, fleet, person, outcome and time, the last first; `older` is where it goes on. */
export async function searchJournal(
  services: Services,
  actor: Actor,
  query: JournalQuery,
): Promise<{ lines: readonly ActionLine[]; older: number | null }> {
  authorise(actor, "look", ESTATE);
  const lines = await found(services, query, PAGE + 1);
  const page = lines.slice(0, PAGE);
  return { lines: page, older: lines.length > PAGE ? (page.at(-1)?.id ?? null) : null };
}

/** What was asked for one machine since an instant, the last first: to be followed live. */
export async function actionsSince(
  services: Services,
  actor: Actor,
  { resourceId, since }: { resourceId: string; since: Instant },
): Promise<{ now: Instant; lines: readonly ActionLine[] }> {
  authorise(actor, "look", ESTATE);
  const { now } = await services.clock.read();
  const query = { resourceId, text: "", status: "", from: since, to: null, before: null, limit: FOLLOWED };
  return { now, lines: await searchActions(services.pool, query) };
}

/** Of one press more than a few actions are another's. */
const FOLLOWED = 5;

function found({ pool }: Services, query: JournalQuery, limit: number): Promise<ActionLine[]> {
  return searchActions(pool, { ...query, resourceId: null, text: query.text.trim(), status: query.outcome, limit });
}

/** The same as CSV (RFC 4180), a row for each action, up to fifty thousand. */
export async function journalCsv(services: Services, actor: Actor, query: JournalQuery): Promise<{ file: string; text: string }> {
  authorise(actor, "look", ESTATE);
  const lines = await found(services, query, EXPORT_MAX);
  const time = (t: Instant | null) => (t === null ? "" : formatInstant(t));
  const rows = lines.map((line) => [
    time(line.recordedAt),
    line.roundId,
    line.name,
    line.resourceId,
    line.fleet ?? "",
    line.verb,
    line.level,
    line.why,
    line.askedBy,
    line.status,
    line.attempts,
    time(line.sentAt),
    time(line.endedAt),
    line.lastAnswer,
  ]);
  const head = [
    "at",
    "round",
    "machine",
    "id",
    "fleet",
    "verb",
    "level",
    "why",
    "asked by",
    "outcome",
    "tries",
    "sent",
    "ended",
    "answer",
  ];
  return { file: "umbrik-journal.csv", text: Papa.unparse([head, ...rows], { escapeFormulae: true, newline: "\n" }) };
}
