import type { DiscountDraft, PriceBookView } from "@/services/cost";
import { RemoveButton } from "../kit/remove-button";
import { EntryForm } from "./entry-form";

const FIELDS: readonly (readonly [keyof DiscountDraft, string])[] = [
  ["provider", "Of provider"],
  ["item", "Item, or any"],
  ["size", "Size, or any"],
  ["purchase", "Purchase, or any"],
  ["percent", "Percent off"],
  ["from", "First day"],
  ["to", "Last day"],
];

/** Shares off what providers ask. What was set by hand is as it was set. */
export function Discounts({ view }: { view: PriceBookView }) {
  return (
    <section aria-label="Discounts" className="mt-4">
      <h2 className="mb-1 font-semibold text-[15px]">Discounts</h2>
      {view.discounts.length === 0 && <p className="text-soft">None. Of several that fit, the largest counts.</p>}
      <ul>
        {view.discounts.map(({ id, provider, item, size, purchase, percent, fromDay, toDay, person }) => (
          <li key={id} className="flex min-h-[26px] items-center gap-3 border-lines border-b">
            <span>
              <b>{percent} %</b> off {[item, size, purchase].filter(Boolean).join(", ") || "everything"} of {provider}, {fromDay}{" "}
              to {toDay}
            </span>
            <span className="text-[13px] text-soft">entered by {person}</span>
            <RemoveButton name={`${percent} %`} path={`/api/discounts/${id}`} />
          </li>
        ))}
      </ul>
      <div className="mt-1">
        <EntryForm
          label="Enter a discount"
          path="/api/discounts"
          fields={FIELDS}
          initial={{ provider: view.providers[0] ?? "" }}
        />
      </div>
    </section>
  );
}
