import { useRef } from "react";
import { isSameJson } from "@/core/same";

/** The value that was given first of those that say the same as JSON: what hangs on it is not begun anew for another copy. */
export function useSame<T>(value: T): T {
  const kept = useRef(value);
  if (kept.current !== value && !isSameJson(kept.current, value)) kept.current = value;
  return kept.current;
}
