"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { FleetDraft } from "@/core/plan";
import { AnswerError, ask } from "../kit/ask";

const REST_MS = 350;

export type Saving = Readonly<{ state: "saved" | "saving" | "failed" | "overtaken"; message: string }>;

/**
 * Keeps a draft on the server as it is edited. `flush` saves what is left and gives the version
 * saved, or null where it could not be. A draft that somebody else overtook is never written over theirs.
 */
export function useAutosave(
  id: number,
  draft: FleetDraft,
  firstVersion: number,
): { saving: Saving; flush: () => Promise<number | null>; accept: (draft: FleetDraft, version: number) => void } {
  const [saving, setSaving] = useState<Saving>({ state: "saved", message: "" });
  const version = useRef(firstVersion);
  const stored = useRef(draft);
  const latest = useRef(draft);
  latest.current = draft;
  const running = useRef<Promise<number | null> | null>(null);

  const save = useCallback(async (): Promise<number | null> => {
    while (stored.current !== latest.current) {
      const sending = latest.current;
      setSaving({ state: "saving", message: "" });
      try {
        const answer = await ask<{ version: number }>(`/api/fleets/${id}`, {
          method: "PUT",
          body: { draft: sending, version: version.current },
        });
        version.current = answer.version;
        stored.current = sending;
        setSaving({ state: "saved", message: "" });
      } catch (error) {
        const isOvertaken = error instanceof AnswerError && error.code === "changed_since";
        setSaving({
          state: isOvertaken ? "overtaken" : "failed",
          message: error instanceof Error ? error.message : String(error),
        });
        return null;
      }
    }
    return version.current;
  }, [id]);

  const flush = useCallback((): Promise<number | null> => {
    running.current ??= save().finally(() => {
      running.current = null;
    });
    return running.current;
  }, [save]);

  useEffect(() => {
    if (stored.current === draft) {
      setSaving((old) => (old.state === "saving" && !running.current ? { state: "saved", message: "" } : old));
      return;
    }
    // Said at once, not only when the request goes out: until then nothing is kept.
    setSaving((old) => (old.state === "saved" ? { state: "saving", message: "" } : old));
    const timer = setTimeout(() => void flush(), REST_MS);
    return () => clearTimeout(timer);
  }, [draft, flush]);

  // A page that is left at once, for another site or another place here, still sends what was typed last.
  useEffect(() => {
    const onLeave = () => {
      if (stored.current === latest.current) return;
      const body = JSON.stringify({ draft: latest.current, version: version.current });
      void fetch(`/api/fleets/${id}`, { method: "PUT", body, keepalive: true, headers: { "content-type": "application/json" } });
    };
    window.addEventListener("pagehide", onLeave);
    return () => {
      window.removeEventListener("pagehide", onLeave);
      onLeave();
    };
  }, [id]);

  /** Takes over what the server now holds, where something else than this wrote it. */
  const accept = useCallback((accepted: FleetDraft, acceptedVersion: number) => {
    stored.current = accepted;
    version.current = acceptedVersion;
    setSaving({ state: "saved", message: "" });
  }, []);

  return { saving, flush, accept };
}
