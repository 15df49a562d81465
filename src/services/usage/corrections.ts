import { type Amount, centsOf, formatCents, type Micros } from "@/core/pricing";
import type { Instant } from "@/core/time";
import { correctionLines, fullInventory, spendCorrections } from "@/store";
import { type Actor, authorise, ESTATE, type Services } from "../admin";

/** A closed day that was reckoned anew: in cents, the change being the difference of what is shown. */
export type CorrectionView = Readonly<{
  id: number;
  day: string;
  at: Instant;
  causes: string;
  persons: string;
  before: string;
  after: string;
  change: string;
  /** The resources that changed most. */
  lines: readonly Readonly<{ name: string; change: string }>[];
  more: number;
}>;

const LINES = 12;

/** The corrections of UTC days, both included, the latest day first. */
export async function correctionsOf(
  services: Services,
  actor: Actor,
  span: Readonly<{ from: string; to: string }>,
): Promise<readonly CorrectionView[]> {
  authorise(actor, "look", ESTATE);
  const { pool } = services;
  const corrections = await spendCorrections(pool, span);
  if (corrections.length === 0) return [];
  const names = new Map((await fullInventory(pool)).map(({ id, name }) => [id, name]));
  return Promise.all(
    corrections.map(async ({ before, after, resources, ...correction }): Promise<CorrectionView> => {
      const lines = await correctionLines(pool, correction.id, { offset: 0, limit: LINES });
      return {
        ...correction,
        before: text(centsOf(before)),
        after: text(centsOf(after)),
        change: text(centsOf(after) - centsOf(before)),
        lines: lines.map((line) => ({
          name: names.get(line.resourceId) ?? line.resourceId,
          change: text(centsOf((line.after - line.before) as Amount)),
        })),
        more: Math.max(0, resources - lines.length),
      };
    }),
  );
}

function text(cents: bigint): string {
  return formatCents((cents * 10_000n) as Micros);
}
