import type { Basis, LeverSoFar } from "@/services/cost";

export type SoFarProps = Readonly<{ lever: LeverSoFar["lever"]; basis: Pick<Basis, "soFar" | "currency"> | null }>;

/** What a lever in force has come to, beside what each of its days was foretold; nothing where no day of it is closed. */
export function SoFar({ lever, basis }: SoFarProps) {
  const own = basis?.soFar.find((one) => one.lever === lever);
  if (!own || !basis) return null;
  const { days, saved, foretold, within } = own;
  return (
    <p className="mb-2 text-[13px]" data-testid={`so-far ${lever}`}>
      On its last {days === 1 ? "day" : `${days} days`}{" "}
      {lever === "ready" ? "people and spare machines took off what hours save" : "it saved"} <b>{shown(lever, saved)}</b>{" "}
      {basis.currency}; {shown(lever, foretold)} was foretold, and {within} of {days}{" "}
      <span className="text-soft">{days === 1 ? "day" : "days"} lay within what nine in ten do.</span>
    </p>
  );
}

/** What people cost is less than nothing saved: said without its sign. */
function shown(lever: LeverSoFar["lever"], amount: string): string {
  return lever === "ready" ? (amount.startsWith("\u2212") ? amount.slice(1) : `\u2212${amount}`) : amount;
}
