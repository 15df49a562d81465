import { ProviderError } from "./port";

/** Answers are read up to a size, and redirects are not followed: nothing an other side says may grow without end. */
export async function boundedText(response: Response, most: number): Promise<string> {
  const length = Number(response.headers.get("content-length") ?? 0);
  if (length > most) throw new ProviderError(`its answer is larger than ${most} bytes`);
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of response.body ?? []) {
    size += chunk.length;
    if (size > most) throw new ProviderError(`its answer is larger than ${most} bytes`);
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString("utf8");
}

/** The answer as JSON; undefined where it is none. */
export function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
