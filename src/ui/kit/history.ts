/** Something that is edited, with the steps back and forward. */
export type History<T> = Readonly<{
  past: readonly T[];
  present: T;
  future: readonly T[];
  /** What the last change belongs to: another of the same is part of one step. */
  step: string | null;
}>;

export type Edit<T> =
  /** `step`: the field that is being typed in, so that all of its letters are one step; null for a step of its own. */
  | Readonly<{ kind: "change"; to: T; step: string | null }>
  | Readonly<{ kind: "undo" }>
  | Readonly<{ kind: "redo" }>
  /** Goes on from something else, with no way back. */
  | Readonly<{ kind: "replace"; to: T }>;

const STEPS_MAX = 200;

export function unedited<T>(present: T): History<T> {
  return { past: [], present, future: [], step: null };
}

export function edited<T>(history: History<T>, edit: Edit<T>): History<T> {
  const { past, present, future } = history;
  switch (edit.kind) {
    case "change":
      if (edit.to === present) return history;
      if (edit.step !== null && edit.step === history.step) return { ...history, present: edit.to, future: [] };
      return { past: [...past, present].slice(-STEPS_MAX), present: edit.to, future: [], step: edit.step };
    case "replace":
      return unedited(edit.to);
    case "undo": {
      const last = past.at(-1);
      return last !== undefined ? { past: past.slice(0, -1), present: last, future: [present, ...future], step: null } : history;
    }
    case "redo": {
      const [next, ...rest] = future;
      return next !== undefined ? { past: [...past, present], present: next, future: rest, step: null } : history;
    }
  }
}
