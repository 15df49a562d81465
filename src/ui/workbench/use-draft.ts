"use client";
import { useCallback, useState } from "react";
import type { FleetDraft } from "@/core/plan";
import type { History } from "../kit/history";
import { useHistory } from "../kit/use-history";
import { type Autosave, useAutosave } from "./use-autosave";

export type EditedDraft = Autosave &
  Readonly<{
    draft: FleetDraft;
    history: Pick<History<FleetDraft>, "past" | "future">;
    undo: () => void;
    redo: () => void;
    onDraft: (next: FleetDraft) => void;
    /** It was put in force here, and not edited since. */
    isForced: boolean;
    /** The draft goes on from what was put in force: what was drafted is the stored schedule now. */
    onForced: (version: number) => void;
  }>;

/** A fleet's draft as it is edited: kept on the server, with undo and redo. */
export function useDraft(fleet: Readonly<{ id: number; version: number; draft: FleetDraft }>): EditedDraft {
  const [history, dispatch] = useHistory(fleet.draft);
  const draft = history.present;
  const [isForced, setIsForced] = useState(false);
  const onRestored = (left: FleetDraft) => dispatch({ kind: "change", to: left });
  const autosave = useAutosave(fleet.id, draft, { firstVersion: fleet.version, onRestored });
  const onDraft = useCallback(
    (next: FleetDraft) => {
      setIsForced(false);
      dispatch({ kind: "change", to: next });
    },
    [dispatch],
  );
  return {
    ...autosave,
    draft,
    history,
    undo: () => dispatch({ kind: "undo" }),
    redo: () => dispatch({ kind: "redo" }),
    onDraft,
    isForced,
    onForced: (version) => {
      const next = { ...draft, schedule: null };
      autosave.accept(next, version);
      dispatch({ kind: "replace", to: next });
      setIsForced(true);
    },
  };
}
