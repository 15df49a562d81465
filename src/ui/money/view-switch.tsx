"use client";
import Link from "next/link";
import { usePathname, useSearchParams } from "next/navigation";
import { useMoneyView } from "./use-view";
import { viewWords } from "./view";

/** Says which money the page shows, and shows the other with one press. */
export function MoneySwitch() {
  const path = usePathname();
  const params = new URLSearchParams(useSearchParams());
  const view = useMoneyView();
  const other = view === "after" ? "before" : "after";
  if (other === "after") params.delete("money");
  else params.set("money", other);
  const query = params.toString();
  return (
    <Link
      href={query === "" ? path : `${path}?${query}`}
      scroll={false}
      className="whitespace-nowrap text-[13px] text-soft underline underline-offset-4 hover:text-ink"
      title={`Show money ${viewWords(other)} instead`}
    >
      Money {viewWords(view)}
    </Link>
  );
}
