import type { CommitmentDraft, PriceBookView } from "@/services/cost";
import { CsvIn } from "../kit/csv-in";
import { RemoveButton } from "../kit/remove-button";
import { EntryForm } from "./entry-form";

const FIELDS: readonly (readonly [keyof CommitmentDraft, string])[] = [
  ["provider", "Of provider"],
  ["account", "Account, or any"],
  ["region", "Region"],
  ["size", "Size"],
  ["units", "Units"],
  ["fee_per_hour", "Fee an hour"],
  ["from", "First day"],
  ["to", "Last day"],
];

/** Capacity that is paid for whatever happens: as the providers list it, and as it was entered. */
export function Commitments({ view }: { view: PriceBookView }) {
  return (
    <section aria-label="Commitments">
      <h2 className="mb-1 font-semibold text-[15px]">Commitments</h2>
      {view.commitments.length === 0 && (
        <p className="text-soft">
          None. Capacity that is paid for whatever happens is entered here, so that no saving is promised twice.
        </p>
      )}
      <ul>
        {view.commitments.map((one) => (
          <li key={one.id} className="flex min-h-[26px] items-center gap-3 border-lines border-b">
            <span className={one.counts ? "" : "text-soft"}>
              <b>
                {one.units} × {one.size}
              </b>{" "}
              in {one.region}, {one.account || "any account"}, {one.feePerHour} {view.currency} an hour, {one.fromDay} to{" "}
              {one.toDay}
              {!one.counts && ", does not count now"}
            </span>
            <span className="text-[13px] text-soft">
              {one.source === "hand" ? `entered by ${one.person}` : "as the provider lists it"}
            </span>
            {one.source === "hand" && <RemoveButton name={`${one.units} × ${one.size}`} path={`/api/commitments/${one.id}`} />}
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap items-start gap-4">
        <EntryForm
          label="Enter a commitment"
          path="/api/commitments"
          fields={FIELDS}
          initial={{ provider: view.providers[0] ?? "" }}
        />
        <CsvIn
          label="or by CSV"
          path="/api/commitments/csv"
          hint="Columns provider, account, region, size, units, fee_per_hour, from, to."
        />
      </div>
    </section>
  );
}
