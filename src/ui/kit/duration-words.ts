/** A length of time as a reader says it: seconds, minutes or hours. */
export function durationWords(seconds: number): string {
  if (seconds < 90) return `${seconds} s`;
  return seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`;
}
