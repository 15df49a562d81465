import type { MoneyView } from "@/core/pricing";

/** Whether money is told after commitments, as it is unless the address says otherwise, or before them. */
export function moneyViewOf(text: string | null | undefined): MoneyView {
  return text === "before" ? "before" : "after";
}

/** Stands beside every currency: which money it is. */
export function viewWords(view: MoneyView): string {
  return view === "after" ? "after commitments" : "before commitments";
}
