import pino from "pino";

/**
 * What a process tells whoever runs it: one line of JSON on stderr for each thing, with `err` where something failed.
 * UMBRIK_LOG says from which level on: trace, debug, info (unless said), warn, error, silent.
 */
export const log = pino(
  { level: levelOf(process.env.UMBRIK_LOG), base: { pid: process.pid }, timestamp: pino.stdTimeFunctions.isoTime },
  pino.destination({ dest: 2, sync: true }),
);

function levelOf(asked: string | undefined): string {
  return asked !== undefined && (asked === "silent" || asked in pino.levels.values) ? asked : "info";
}
