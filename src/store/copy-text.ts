const NEEDS_ESCAPE = /[\\\t\n\r\0]/;
const ESCAPES: Record<string, string> = { "\\": "\\\\", "\t": "\\t", "\n": "\\n", "\r": "\\r", "\0": "" };

/** A text as a column of the database's own format for COPY takes it. */
export function copyText(text: string): string {
  return NEEDS_ESCAPE.test(text) ? text.replace(/[\\\t\n\r\0]/g, (one) => ESCAPES[one] as string) : text;
}
