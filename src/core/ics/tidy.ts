import type { Skipped } from "./read";

/** A text that can be read line by line, and what was odd about it. Lines keep their numbers. */
export type Tidied = Readonly<{ text: string; odd: readonly Skipped[] }>;

const CONTENT = /^[A-Za-z0-9-]+(;[^:]*)?:/;
const DAYS_ALONE = /^(EXDATE|RDATE)((?:;(?!VALUE=)[^:;]*)*):(\d{8}(?:,\d{8})*)\s*$/i;

/**
 * Puts right what others write of RFC 5545 and can only mean one thing: a line that is none is left out with what continues it, and
 * exceptions that are days without saying so are days. Each is noted.
 */
export function tidied(text: string): Tidied {
  const odd: Skipped[] = [];
  let isLeftOut = false;
  const lines = text.split(/\r?\n/).map((line, i) => {
    const isContinued = /^[ \t]/.test(line);
    if (isContinued && isLeftOut) return "";
    isLeftOut = !isContinued && line.trim() !== "" && !CONTENT.test(line);
    if (isLeftOut) {
      odd.push({ line: i + 1, name: "", why: `"${line.slice(0, 60)}" is no line of a calendar` });
      return "";
    }
    const days = DAYS_ALONE.exec(line);
    if (!days) return line;
    const [, name = "", more = "", values = ""] = days;
    odd.push({ line: i + 1, name: "", why: `${name}: ${values} says no time and is taken as that day` });
    return `${name}${more};VALUE=DATE:${values}`;
  });
  // Lines that are left out leave nothing: an empty one would end what is continued after it.
  return { text: lines.filter((line) => line !== "").join("\r\n"), odd };
}
