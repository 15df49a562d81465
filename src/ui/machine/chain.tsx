import type { Considered } from "@/core/hours";
import { chainWords, type Due } from "@/core/rounds";

/** Every rule that was considered, in order; under hours the rows of the schedule. */
export function Chain({ due, rows }: { due: Due; rows: readonly Considered[] }) {
  return (
    <ol className="mt-1 text-[13px]" aria-label="Rules considered">
      {chainWords(due.chain).map((rule) => (
        <li key={rule.rule} className="border-lines border-b py-1">
          <Rule {...rule} isDecisive={rule.rule === due.decidedBy} />
          {rule.rule === "hours" && rows.length > 0 && (
            <ol className="ml-5" aria-label="Rows considered">
              {rows.map((row, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: rows of one day key may stand twice; their order is fixed
                <li key={i}>
                  <Rule {...row} isDecisive={false} />
                </li>
              ))}
            </ol>
          )}
        </li>
      ))}
    </ol>
  );
}

function Rule({ rule, applies, why, isDecisive }: Considered & { isDecisive: boolean }) {
  return (
    <span className={applies ? "" : "text-soft"}>
      <span aria-hidden>{applies ? "●" : "○"}</span> <b>{rule}</b> {applies ? "speaks" : "does not"}
      {isDecisive && " and decides"}: {why}
    </span>
  );
}
