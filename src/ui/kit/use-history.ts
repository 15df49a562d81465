"use client";
import { useCallback, useEffect, useReducer, useRef } from "react";
import { type Edit, edited, type History, unedited } from "./history";

/** An edit as a component says it: which step a change belongs to is seen from where the person is. */
export type OwnEdit<T> = Exclude<Edit<T>, { kind: "change" }> | Readonly<{ kind: "change"; to: T }>;

/**
 * A thing being edited, with undo and redo on the usual keys wherever no text field has the focus. What is typed into
 * one field until it is left is one step; a stroke or a press is one by itself.
 */
export function useHistory<T>(first: T): [History<T>, (edit: OwnEdit<T>) => void] {
  const [history, dispatch] = useReducer(edited as (history: History<T>, edit: Edit<T>) => History<T>, first, unedited);
  const visits = useRef(0);
  const edit = useCallback((own: OwnEdit<T>) => {
    if (own.kind !== "change") return dispatch(own);
    dispatch({ ...own, step: isTyping(document.activeElement) ? `visit ${visits.current}` : null });
  }, []);
  useEffect(() => {
    const onLeave = () => {
      visits.current++;
    };
    const onKey = (event: KeyboardEvent) => {
      const isText = event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement;
      if (isText || !(event.ctrlKey || event.metaKey)) return;
      if (event.key === "z" && !event.shiftKey) dispatch({ kind: "undo" });
      else if (event.key === "y" || (event.key === "z" && event.shiftKey)) dispatch({ kind: "redo" });
      else return;
      event.preventDefault();
    };
    window.addEventListener("focusout", onLeave);
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("focusout", onLeave);
      window.removeEventListener("keydown", onKey);
    };
  }, []);
  return [history, edit];
}

const PRESSED = new Set(["checkbox", "radio", "button", "submit"]);

function isTyping(element: Element | null): boolean {
  if (element instanceof HTMLTextAreaElement) return true;
  return element instanceof HTMLInputElement && !PRESSED.has(element.type);
}
