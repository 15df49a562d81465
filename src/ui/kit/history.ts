/** Something that is edited, with the steps back and forward. */
export type History<T> = Readonly<{ past: readonly T[]; present: T; future: readonly T[] }>;

export type Edit<T> =
  | Readonly<{ kind: "change"; to: T }>
  | Readonly<{ kind: "undo" }>
  | Readonly<{ kind: "redo" }>
  /** Goes on from something else, with no way back. */
  | Readonly<{ kind: "replace"; to: T }>;

const STEPS_MAX = 200;

export function unedited<T>(present: T): History<T> {
  return { past: [], present, future: [] };
}

export function edited<T>(history: History<T>, edit: Edit<T>): History<T> {
  const { past, present, future } = history;
  switch (edit.kind) {
    case "change":
      if (edit.to === present) return history;
      return { past: [...past, present].slice(-STEPS_MAX), present: edit.to, future: [] };
    case "replace":
      return unedited(edit.to);
    case "undo": {
      const last = past.at(-1);
      return last !== undefined ? { past: past.slice(0, -1), present: last, future: [present, ...future] } : history;
    }
    case "redo": {
      const [next, ...rest] = future;
      return next !== undefined ? { past: [...past, present], present: next, future: rest } : history;
    }
  }
}
