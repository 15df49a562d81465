"use client";
import { useSearchParams } from "next/navigation";
import type { MoneyView } from "@/core/pricing";
import { moneyViewOf } from "./view";

/** What the page's address says of its money. */
export function useMoneyView(): MoneyView {
  return moneyViewOf(useSearchParams().get("money"));
}
