import { type ListedResource, resourceKey, type SetAside } from "@/core/plan";
import { isPlain } from "@/core/text";
import type { FeedEvent, Listed } from "./port";
import { eventShape, resourceOf, resourceShape } from "./shapes";

type Whose = Readonly<{ account: string; provider: string }>;

/**
 * Takes in what an account lists, page by page, so that nothing is held twice; what cannot be understood is set aside alone, with
 * the reason, and the rest goes on.
 */
export function listingReader({ account, provider }: Whose): Readonly<{
  add: (lines: readonly unknown[]) => void;
  listed: () => Omit<Listed, "clock">;
}> {
  const byId = new Map<string, ListedResource>();
  const setAside: SetAside[] = [];
  const addOne = (line: unknown): void => {
    const parsed = resourceShape.safeParse(line);
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      const { id, name } = whoIs(line);
      setAside.push({
        id: id === null ? null : resourceKey(account, id),
        name,
        why: `${issue?.path.join(".") || "it"}: ${issue?.message}`,
      });
      return;
    }
    const resource = resourceOf(parsed.data, { account, provider });
    const other = byId.get(resource.id);
    if (other && JSON.stringify(other) !== JSON.stringify(resource)) {
      setAside.push({ id: resource.id, name: resource.name, why: "it is listed twice, and not alike" });
    }
    byId.set(resource.id, resource);
  };
  return {
    add: (lines) => {
      for (const line of lines) addOne(line);
    },
    listed: () => {
      const odd = new Set(setAside.map(({ id }) => id));
      return { resources: [...byId.values()].filter(({ id }) => !odd.has(id)), setAside };
    },
  };
}

/** The events of a page; the cursor goes on behind what cannot be understood. */
export function eventsOf(
  lines: readonly unknown[],
  { after, account }: { after: number; account: string },
): Readonly<{ events: readonly FeedEvent[]; last: number; setAside: readonly SetAside[] }> {
  const events: FeedEvent[] = [];
  const setAside: SetAside[] = [];
  let last = after;
  for (const line of lines) {
    const n = numberOf(line);
    if (n !== null && n > last) last = n;
    const parsed = eventShape.safeParse(line);
    if (parsed.success) {
      const { resource, ...event } = parsed.data;
      events.push({ ...event, resourceId: resourceKey(account, resource) });
    } else {
      const [issue] = parsed.error.issues;
      setAside.push({
        id: null,
        name: `event ${n ?? "without a number"}`,
        why: `${issue?.path.join(".") || "it"}: ${issue?.message}`,
      });
    }
  }
  return { events, last, setAside };
}

/** Whom an odd line is about, as far as that can be told. */
function whoIs(line: unknown): Pick<SetAside, "id" | "name"> {
  const { id, name } = typeof line === "object" && line !== null ? (line as Record<string, unknown>) : {};
  const known = typeof id === "string" && id !== "" && isPlain(id) ? id : null;
  const named = typeof name === "string" && isPlain(name) ? name.slice(0, 80) : known;
  return { id: known, name: named ?? "something without a name" };
}

function numberOf(line: unknown): number | null {
  const n = typeof line === "object" && line !== null ? (line as { n?: unknown }).n : null;
  return Number.isSafeInteger(n) ? (n as number) : null;
}
