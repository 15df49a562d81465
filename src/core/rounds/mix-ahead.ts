import type { Level } from "../hours";
import type { Resource } from "../plan";
import type { AheadSpan } from "./life-ahead";

/**
 * What a group under a mix and its members will be, from what the group will be as a whole: members are on by their place, the
 * firm ones first, while the level is above those before them; what they do not come to the group has of itself, at its own
 * price. Evictions are not foretold. By id.
 */
export function mixAhead(
  group: Resource,
  members: readonly Resource[],
  { whole, unitsOf }: Readonly<{ whole: readonly AheadSpan[]; unitsOf: (member: Resource) => number }>,
): ReadonlyMap<string, readonly AheadSpan[]> {
  const inOrder = [...members].sort((a, b) => rank(a) - rank(b) || (a.id < b.id ? -1 : 1));
  const ahead = new Map<string, readonly AheadSpan[]>();
  let before = 0;
  for (const member of inOrder) {
    const place = before;
    ahead.set(
      member.id,
      joined(whole, (level) => (level > place ? { state: "running", level: 1 } : { state: "stopped", level: 0 })),
    );
    before += unitsOf(member);
  }
  ahead.set(
    group.id,
    joined(whole, (level) => {
      const rest = Math.max(0, level - before);
      return { state: rest > 0 ? "running" : "stopped", level: rest };
    }),
  );
  return ahead;
}

function rank({ fields }: Resource): number {
  return fields.purchase === "firm" ? 0 : 1;
}

type Said = Readonly<{ state: "running" | "stopped"; level: number }>;

/** Spans by what each is, equal neighbours as one. */
function joined(whole: readonly AheadSpan[], of: (level: number) => Said): AheadSpan[] {
  const spans: AheadSpan[] = [];
  for (const { from, to, level } of whole) {
    const said = of(level);
    const last = spans.at(-1);
    if (last && last.state === said.state && last.level === said.level && last.to === from)
      spans[spans.length - 1] = { ...last, to };
    else spans.push({ from, to, state: said.state, level: said.level as Level });
  }
  return spans;
}
