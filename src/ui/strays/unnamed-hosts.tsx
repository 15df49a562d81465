import type { SourceView } from "@/services/metrics";
import { ButtonLink } from "../kit/button-link";
import { Strangers } from "../sources/strangers";

/** Hosts that sources of metrics tell of and that name no machine: a kind of stray of its own, which costs nothing. */
export function UnnamedHosts({ sources }: { sources: readonly SourceView[] }) {
  const own = sources.filter(({ unmatched }) => unmatched > 0);
  const count = own.reduce((sum, { unmatched }) => sum + unmatched, 0);
  if (count === 0) return null;
  return (
    <details open className="mb-2 border-lines border-t pt-1.5">
      <summary className="cursor-pointer">
        <h2 className="inline font-semibold text-[15px]">
          {count === 1 ? "1 source of metrics names" : `${count} sources of metrics name`} no machine
        </h2>
      </summary>
      {own.map(({ id, name, strangers, unmatched }) => (
        <div key={id} className="mt-1">
          <h3 className="text-soft">{name}</h3>
          <Strangers hosts={strangers} of={unmatched} />
        </div>
      ))}
      <ButtonLink href="/sources">Say how they name machines</ButtonLink>
    </details>
  );
}
