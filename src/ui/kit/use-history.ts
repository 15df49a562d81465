"use client";
import { type Dispatch, useEffect, useReducer } from "react";
import { type Edit, edited, type History, unedited } from "./history";

/** A thing being edited, with undo and redo on the usual keys wherever no text field has the focus. */
export function useHistory<T>(first: T): [History<T>, Dispatch<Edit<T>>] {
  const [history, dispatch] = useReducer(edited as (history: History<T>, edit: Edit<T>) => History<T>, first, unedited);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const isText = event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement;
      if (isText || !(event.ctrlKey || event.metaKey)) return;
      if (event.key === "z" && !event.shiftKey) dispatch({ kind: "undo" });
      else if (event.key === "y" || (event.key === "z" && event.shiftKey)) dispatch({ kind: "redo" });
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return [history, dispatch];
}
