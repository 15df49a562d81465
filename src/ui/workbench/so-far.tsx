import type { Basis, LeverSoFar } from "@/services/cost";

export type SoFarProps = Readonly<{ lever: LeverSoFar["lever"]; basis: Pick<Basis, "soFar" | "currency"> | null }>;

/** What a lever in force has come to, beside what each of its days was foretold; nothing where no day of it is closed. */
export function SoFar({ lever, basis }: SoFarProps) {
  const own = basis?.soFar.find((one) => one.lever === lever);
  if (!own || !basis) return null;
  const { days, saved, foretold, within } = own;
  return (
    <p className="mb-2 text-[13px]" data-testid={`so-far ${lever}`}>
      On its last {days === 1 ? "day" : `${days} days`} {came(lever, saved)} <b>{unsigned(saved)}</b> {basis.currency};{" "}
      {came(lever, saved) === came(lever, foretold) ? unsigned(foretold) : foretold} was foretold
      <span className="text-soft">
        , and {within} of {days} came within the spread of its forecast.
      </span>
    </p>
  );
}

const MINUS = "\u2212";

/** What people and spare machines come to is mostly a cost, what alarms and mixes come to mostly a saving: each by its name. */
function came(lever: LeverSoFar["lever"], amount: string): string {
  const isCost = amount.startsWith(MINUS);
  if (lever === "ready") return isCost ? "people and spare machines cost" : "people and spare machines saved";
  return isCost ? "it cost" : "it saved";
}

function unsigned(amount: string): string {
  return amount.startsWith(MINUS) ? amount.slice(1) : amount;
}
