"use client";
import { Button } from "../kit/button";
import type { EditedDraft } from "./use-draft";

export type HeadingProps = Readonly<{ name: string; isInForce: boolean; isDifferent: boolean; edited: EditedDraft }>;

/** Which fleet it is, how its draft stands, and the way back. */
export function Heading({ name, isInForce, isDifferent, edited: { saving, history, undo, redo } }: HeadingProps) {
  const inForce = isDifferent ? "in force; this draft differs" : "in force";
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <h1 className="font-medium text-[20px] leading-7">{name}</h1>
      <span className="text-soft">{isInForce ? inForce : "draft, touches nothing"}</span>
      <div className="flex-1" />
      <span role="status" className="text-[13px] text-soft">
        {saving.state === "saving" ? "keeping…" : saving.state === "saved" ? "draft kept" : ""}
      </span>
      <Button onClick={undo} disabled={history.past.length === 0}>
        Undo
      </Button>
      <Button onClick={redo} disabled={history.future.length === 0}>
        Redo
      </Button>
    </div>
  );
}
