import type { StrayPage } from "@/services/cost";

/** The two sums of the strays, a sentence each: what serves nobody, and what nobody has thought of. */
export function StraySums({ page: { nobody, unthought, currency } }: { page: StrayPage }) {
  return (
    <>
      {nobody.count > 0 && (
        <>
          {nobody.count === 1 ? "1 serves" : `${nobody.count} serve`} nobody: <b>{nobody.perMonth}</b> {currency} a month.{" "}
        </>
      )}
      {unthought.count > 0 && (
        <>
          {unthought.count === 1 ? "1 runs" : `${unthought.count} run`} that nobody has thought of: <b>{unthought.perMonth}</b>{" "}
          {currency} a month.
        </>
      )}
    </>
  );
}
