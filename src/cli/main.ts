import { isNearMiss, nearest } from "@/core/selector";
import { Problem, wrongUse } from "./problem";
import { Text, WRITTEN } from "./text";

type Command = (args: readonly string[]) => unknown;

/** Every command by its words: arguments in, one JSON document out. docs/cli.md describes them. Each is loaded when it is asked for. */
const COMMANDS: ReadonlyMap<string, () => Promise<Command>> = new Map<string, () => Promise<Command>>([
  ["hours expand", async () => (await import("./hours")).hoursExpand],
  ["hours line", async () => (await import("./hours")).hoursLine],
  ["hours next", async () => (await import("./hours")).hoursNext],
  ["hours explain", async () => (await import("./hours")).hoursExplain],
  ["hours ics", async () => (await import("./hours")).hoursIcs],
  ["select", async () => (await import("./select")).select],
  ["price run", async () => (await import("./price")).priceRun],
  ["idle replay", async () => (await import("./idle")).idleReplay],
  ["idle sweep", async () => (await import("./idle")).idleSweep],
  ["mix simulate", async () => (await import("./mix")).mixSimulate],
  ["mix frontier", async () => (await import("./mix")).mixFrontier],
  ["mix learn", async () => (await import("./mix")).mixLearn],
  ["project", async () => (await import("./project")).project],
  ["spend now", async () => (await import("./stored")).spendNow],
  ["spend day", async () => (await import("./stored")).spendDay],
  ["focus import", async () => (await import("./stored")).focusImport],
  ["focus export", async () => (await import("./stored")).focusExport],
  ["report send", async () => (await import("./stored")).reportSend],
]);

const USAGE = `usage: umbrik COMMAND FLAGS
  umbrik hours expand --plan FILE --schedule NAME --from T --to T [--zone ZONE]
  umbrik hours line TEXT --zone ZONE --from T --to T [--holidays D,D]
  umbrik hours next --plan FILE --schedule NAME --at T --count N [--zone ZONE]
  umbrik hours explain --plan FILE --schedule NAME --at T [--zone ZONE]
  umbrik hours ics --plan FILE --schedule NAME [--zone ZONE] [--from T --to T]
  umbrik select --inventory FILE --selector TEXT
  umbrik price run --rate R --granularity S --minimum S --from T --to T [--level N]
  umbrik project --plan FILE --inventory FILE --prices FILE --from T --to T
  umbrik idle replay --rule FILE --samples FILE [--plan FILE --schedule NAME] [--zone ZONE] [--after-hours]
  umbrik idle sweep --rule FILE --samples FILE --thresholds X,X --windows M,M [--condition K] [--interruptions-per-week N]
                    [--rate R] [--plan FILE --schedule NAME] [--zone ZONE]
  umbrik mix simulate --mix FILE --trials N --seed N --days D
  umbrik mix frontier --mix FILE --trials N --seed N --days D [--choices FILE] [--share P]
  umbrik mix learn --counts FILE
  umbrik spend now
  umbrik spend day --date YYYY-MM-DD
  umbrik focus import FILE
  umbrik focus export --from YYYY-MM-DD --to YYYY-MM-DD [--import N]
  umbrik report send --report NAME [--to ADDRESS]
T is an instant such as 2027-03-11T05:00:00Z. Results are JSON, but for the text of hours ics and focus export. Exit: 0 an answer, 1 the data allows none, 2 wrong use.`;

async function run(argv: readonly string[]): Promise<unknown> {
  for (const words of [2, 1]) {
    const command = COMMANDS.get(argv.slice(0, words).join(" "));
    if (command) return (await command())(argv.slice(words));
  }
  const typed = argv
    .filter((word) => !word.startsWith("-"))
    .slice(0, 2)
    .join(" ");
  const near = nearest(typed, new Map([...COMMANDS.keys()].map((name) => [name, 1])));
  const hint = near && isNearMiss(typed, near.name) ? `; did you mean "${near.name}"?` : "";
  return wrongUse(typed === "" ? "a command is missing" : `unknown command "${typed}"${hint}`, USAGE);
}

// Whoever reads may have had enough, as `head` has after some lines: that is no fault.
process.stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit(0);
  throw error;
});

const argv = process.argv.slice(2);
if (argv[0] === "--help" || argv[0] === "help") {
  console.log(USAGE);
} else {
  try {
    const result = await run(argv);
    if (result !== WRITTEN) {
      process.stdout.write(result instanceof Text ? result.content : `${JSON.stringify(result)}\n`);
    }
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    for (const line of error.lines) console.error(`umbrik: ${line}`);
    process.exitCode = error.exitCode;
  }
}
