import type { ProjectionCheck } from "@/services/cost";

/** How what was projected compared with the meter, the causes largest first. */
export function Check({ check, currency }: { check: ProjectionCheck; currency: string }) {
  const { from, to, projected, metered, errorPercent, causes } = check;
  return (
    <section aria-label="Projected and metered" data-testid="projection-check">
      <h2 className="font-semibold text-[15px]">Projected and metered</h2>
      <p className="text-[13px]">
        {from} to {to} UTC: {projected} {currency} projected, <b>{metered}</b> metered, {errorPercent}
        {causes.length > 0 && (
          <span className="text-soft">: {causes.map(({ cause, percent }) => `${cause} ${percent}`).join(", ")}</span>
        )}
        <span className="text-soft">; before commitments.</span>
      </p>
    </section>
  );
}
