import { formatDate, type Instant, localTime } from "@/core/time";

/** The wall clock as a chart's axis takes it. */
export function wallText(zone: string, t: Instant): string {
  const { day, second } = localTime(zone, t);
  const two = (value: number) => String(value).padStart(2, "0");
  return `${formatDate(day)} ${two(Math.floor(second / 3600))}:${two(Math.floor(second / 60) % 60)}`;
}
