"use client";
import { useEffect, useRef } from "react";

/** Takes a problem away as soon as somebody types: what is said of what was typed before need not stay. */
export function useUntilTyped(isThere: boolean, clear: () => void): void {
  const latest = useRef(clear);
  latest.current = clear;
  useEffect(() => {
    if (!isThere) return;
    const onInput = () => latest.current();
    document.addEventListener("input", onInput, { once: true });
    return () => document.removeEventListener("input", onInput);
  }, [isThere]);
}
