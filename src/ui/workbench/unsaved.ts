import { type FleetDraft, fleetDraftSchema } from "@/core/plan";

const EDITOR = "umbrik-editor";
const keyOf = (id: number) => `umbrik-draft ${id}`;

let own: string | null = null;
let last = 0;

/**
 * This page's name towards the server, so that it is never refused its own writing. It outlives a reload of the
 * page; a page that was opened as a copy of this one gets another.
 */
export function editorName(): string {
  if (own !== null) return own;
  own = sessionStorage.getItem(EDITOR) ?? crypto.randomUUID();
  sessionStorage.removeItem(EDITOR);
  window.addEventListener("pagehide", () => sessionStorage.setItem(EDITOR, own ?? ""));
  return own;
}

/** Counts this page's writes, on past a reload: of two that cross each other the later one stays. */
export function nextWrite(): number {
  last = Math.max(last + 1, Date.now());
  return last;
}

/** What was typed and is not known to be stored, with the version it was typed on. */
export type Unsaved = Readonly<{ draft: FleetDraft; version: number; base: FleetDraft }>;

/** Keeps it in this tab until it is stored, at once and without waiting for anything. */
export function keepUnsaved(id: number, unsaved: Unsaved): void {
  try {
    sessionStorage.setItem(keyOf(id), JSON.stringify(unsaved));
  } catch {
    // A full store: the page still saves as it is left.
  }
}

export function forgetUnsaved(id: number): void {
  sessionStorage.removeItem(keyOf(id));
}

const savedKeyOf = (id: number) => `umbrik-saved ${id}`;

/** Notes the version that this tab last knows to be stored. */
export function noteSaved(id: number, version: number): void {
  try {
    sessionStorage.setItem(savedKeyOf(id), String(version));
  } catch {
    // A full store: a page that was made too early shows what it was made from.
  }
}

/** The version that this tab last knew to be stored; 0 where it knows of none. */
export function savedVersionOf(id: number): number {
  return Number(sessionStorage.getItem(savedKeyOf(id)) ?? 0) || 0;
}

/** What is left of an earlier look at this fleet in this tab; null where nothing is, or it cannot be read any more. */
export function unsavedOf(id: number): Unsaved | null {
  const text = sessionStorage.getItem(keyOf(id));
  if (text === null) return null;
  try {
    const { draft, version, base } = JSON.parse(text);
    return { draft: fleetDraftSchema.parse(draft), base: fleetDraftSchema.parse(base), version: Number(version) };
  } catch {
    return null;
  }
}
