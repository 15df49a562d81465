/** So many measured starts say more than the usual time does. */
const STARTS_LEAST = 5;
/** What goes is seen by the next round: half a minute later in the mean. */
const SEEN_AFTER_S = 30;

/** Minutes from when a machine goes to when the next one runs: measured starts (seconds) in the mean, or what is usual. To a tenth. */
export function provisionMinutes(starts: readonly number[], usualS: number): number {
  const mean = starts.length < STARTS_LEAST ? usualS : starts.reduce((sum, seconds) => sum + seconds, 0) / starts.length;
  return Math.round((mean + SEEN_AFTER_S) / 6) / 10;
}
