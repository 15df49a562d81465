"use client";
import { useRouter } from "next/navigation";
import { useLive } from "./use-live";

/** Draws the page anew from the server when one of the named things changes elsewhere. */
export function LivePage({ on }: { on: readonly string[] }) {
  const router = useRouter();
  useLive(on, () => router.refresh());
  return null;
}
