"use client";
import { useCallback, useEffect, useRef, useState } from "react";
import type { FleetDraft } from "@/core/plan";
import { isSameJson } from "@/core/same";
import { AnswerError, ask } from "../kit/ask";
import { editorName, forgetUnsaved, keepUnsaved, nextWrite, noteSaved, savedVersionOf, unsavedOf } from "./unsaved";

const REST_MS = 350;

/** Two drafts that grew apart, from the one that both began with. */
export type Apart = Readonly<{ base: FleetDraft; theirs: FleetDraft; version: number }>;

export type Saving = Readonly<{
  state: "saved" | "saving" | "failed" | "apart";
  message: string;
  apart: Apart | null;
}>;

const SAVED: Saving = { state: "saved", message: "", apart: null };

export type Autosave = Readonly<{
  saving: Saving;
  /** Saves what is left; the version saved, or null where it could not be. */
  flush: () => Promise<number | null>;
  /** Takes over what the server now holds, where something else than this wrote it. */
  accept: (draft: FleetDraft, version: number) => void;
}>;

/**
 * Keeps a draft on the server as it is edited, and in this tab until it is there: what was typed a moment before a
 * reload comes back through `onRestored`. A page is never refused its own writing; where somebody else wrote in
 * between, nothing is written over theirs, and both are given.
 */
export function useAutosave(
  id: number,
  draft: FleetDraft,
  { firstVersion, onRestored }: { firstVersion: number; onRestored: (draft: FleetDraft) => void },
): Autosave {
  const [saving, setSaving] = useState<Saving>(SAVED);
  /** The version that this page was made from. */
  const made = useRef(firstVersion);
  const version = useRef(firstVersion);
  const stored = useRef(draft);
  const latest = useRef(draft);
  latest.current = draft;
  const running = useRef<Promise<number | null> | null>(null);
  const restored = useRef(onRestored);

  const bodyOf = useCallback(
    (sending: FleetDraft) => ({ draft: sending, version: version.current, editor: editorName(), write: nextWrite() }),
    [],
  );

  const save = useCallback(async (): Promise<number | null> => {
    while (stored.current !== latest.current) {
      const sending = latest.current;
      setSaving({ state: "saving", message: "", apart: null });
      try {
        const answer = await ask<{ version: number }>(`/api/fleets/${id}`, { method: "PUT", body: bodyOf(sending) });
        version.current = answer.version;
        stored.current = sending;
        noteSaved(id, answer.version);
        if (latest.current === sending) forgetUnsaved(id);
        setSaving(SAVED);
      } catch (error) {
        const failure = await failureOf(error, { id, base: stored.current });
        const { apart } = failure;
        if (apart && isSameJson(apart.theirs, sending)) {
          // Whoever it was wrote the same.
          version.current = apart.version;
          stored.current = sending;
          setSaving(SAVED);
          continue;
        }
        setSaving(failure);
        return null;
      }
    }
    return version.current;
  }, [id, bodyOf]);

  const flush = useCallback((): Promise<number | null> => {
    running.current ??= save().finally(() => {
      running.current = null;
    });
    return running.current;
  }, [save]);

  // What an earlier look at this fleet left behind goes on from where it was typed.
  useEffect(() => {
    // Taken up at once: what it leaves to the next page it can only leave if it is known before it goes.
    editorName();
    const left = unsavedOf(id);
    if (!left) {
      // A reload may be answered with what stood before a save that ended a moment later.
      if (savedVersionOf(id) > made.current) void catchUp();
      return;
    }
    if (isSameJson(left.draft, latest.current)) {
      forgetUnsaved(id);
      return;
    }
    version.current = left.version;
    stored.current = left.base;
    restored.current(left.draft);

    async function catchUp() {
      const shown = latest.current;
      const now = await ask<{ draft: FleetDraft; version: number }>(`/api/fleets/${id}`).catch(() => null);
      // Whoever types meanwhile goes on from what is shown, and is told of the rest as of another's change.
      if (!now || latest.current !== shown) return;
      noteSaved(id, now.version);
      version.current = now.version;
      stored.current = now.draft;
      restored.current(now.draft);
    }
  }, [id]);

  const isApart = saving.state === "apart";
  useEffect(() => {
    if (stored.current === draft) {
      setSaving((old) => (old.state === "saving" && !running.current ? SAVED : old));
      return;
    }
    keepUnsaved(id, { draft, version: version.current, base: stored.current });
    // Until somebody has chosen, nothing is sent: it would only be refused again.
    if (isApart) return;
    // Said at once, not only when the request goes out: until then nothing is kept.
    setSaving((old) => (old.state === "saved" ? { ...old, state: "saving" } : old));
    const timer = setTimeout(() => void flush(), REST_MS);
    return () => clearTimeout(timer);
  }, [id, draft, flush, isApart]);

  // A page that is left at once, for another site or another place here, still sends what was typed last.
  useEffect(() => {
    const onLeave = () => {
      if (stored.current === latest.current) return;
      // What was typed last may not have been kept in the tab yet, and the next page may be read before this is stored.
      keepUnsaved(id, { draft: latest.current, version: version.current, base: stored.current });
      const body = JSON.stringify(bodyOf(latest.current));
      void fetch(`/api/fleets/${id}`, { method: "PUT", body, keepalive: true, headers: { "content-type": "application/json" } });
    };
    window.addEventListener("pagehide", onLeave);
    return () => {
      window.removeEventListener("pagehide", onLeave);
      onLeave();
    };
  }, [id, bodyOf]);

  const accept = useCallback(
    (accepted: FleetDraft, acceptedVersion: number) => {
      stored.current = accepted;
      version.current = acceptedVersion;
      if (latest.current === accepted) forgetUnsaved(id);
      setSaving(SAVED);
    },
    [id],
  );

  return { saving, flush, accept };
}

async function failureOf(error: unknown, { id, base }: { id: number; base: FleetDraft }): Promise<Saving> {
  const message = error instanceof Error ? error.message : String(error);
  if (!(error instanceof AnswerError) || error.code !== "changed_since") return { state: "failed", message, apart: null };
  try {
    const { draft: theirs, version } = await ask<{ draft: FleetDraft; version: number }>(`/api/fleets/${id}`);
    return { state: "apart", message, apart: { base, theirs, version } };
  } catch {
    return { state: "failed", message, apart: null };
  }
}
