import { DAY_NAMES } from "./days";
import { readLine } from "./read";

const DAY_WORDS = [
  ["mo", "mon", "monday"],
  ["tu", "tue", "tues", "tuesday"],
  ["we", "wed", "wednesday"],
  ["th", "thu", "thur", "thurs", "thursday"],
  ["fr", "fri", "friday"],
  ["sa", "sat", "saturday"],
  ["su", "sun", "sunday"],
];

/** The line that was probably meant by one that does not read: day names, two-digit hours, signs; null where none comes to mind. */
export function suggestLine(text: string): string | null {
  const repaired = text
    .replace(/[A-Za-z]+/g, (word) => {
      const lower = word.toLowerCase();
      const day = DAY_WORDS.findIndex((words) => words.includes(lower));
      if (day >= 0) return DAY_NAMES[day] as string;
      if (lower === "ph" || lower === "holidays") return "PH";
      return lower === "closed" ? "off" : lower === "off" ? lower : word;
    })
    .replace(/[–—]/g, "-")
    .replace(/(\d)[.h](\d\d)(?!\d)/g, "$1:$2")
    .replace(/(?<![\d:])(\d):(\d\d)/g, "0$1:$2")
    .replace(
      /(?<![\d:])(\d{1,2})\s*-\s*(\d{1,2})(?![\d:])/g,
      (_, from: string, to: string) => `${from.padStart(2, "0")}:00-${to.padStart(2, "0")}:00`,
    )
    .trim();
  return repaired !== text && readLine(repaired).ok ? repaired : null;
}
