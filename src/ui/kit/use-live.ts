"use client";
import { useEffect, useRef } from "react";

type Listener = (what: string) => void;

const listeners = new Set<Listener>();
let source: EventSource | null = null;

function subscribe(listener: Listener): () => void {
  listeners.add(listener);
  if (!source) {
    source = new EventSource("/api/live");
    source.onmessage = ({ data }) => {
      for (const each of listeners) each(String(data));
    };
  }
  return () => {
    listeners.delete(listener);
    if (listeners.size === 0) {
      source?.close();
      source = null;
    }
  };
}

/** Calls `onChange` when one of the named things changed anywhere; several changes within `restMs` are one call. */
export function useLive(what: readonly string[], onChange: () => void, restMs = 400): void {
  const latest = useRef(onChange);
  latest.current = onChange;
  const key = what.join(" ");
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | null = null;
    const stop = subscribe((changed) => {
      if (!key.split(" ").includes(changed)) return;
      timer ??= setTimeout(() => {
        timer = null;
        latest.current();
      }, restMs);
    });
    return () => {
      stop();
      if (timer) clearTimeout(timer);
    };
  }, [key, restMs]);
}
