"use client";
import { useState } from "react";
import type { LinkView } from "@/services/report";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";

export type LinkPageProps = { view: LinkView; token: string; what: "confirm" | "unsubscribe" };

/** Where a link in a mail leads. Opening it changes nothing: mail programs open links by themselves; the press does. */
export function LinkPage({ view, token, what }: LinkPageProps) {
  const [state, setState] = useState<{ done: boolean; problem: string }>({ done: false, problem: view.ok ? "" : view.reason });
  const isConfirm = what === "confirm";
  async function follow() {
    try {
      const answer = await ask<LinkView>(`/api/mail/${what}?token=${encodeURIComponent(token)}`, { method: "POST", body: {} });
      setState({ done: answer.ok, problem: answer.ok ? "" : answer.reason });
    } catch (error) {
      setState({ done: false, problem: error instanceof AnswerError ? error.message : String(error) });
    }
  }
  return (
    <div className="mx-auto max-w-[560px] px-4 py-12">
      {(state.problem || state.done) && <h1 className="sr-only">{isConfirm ? "Confirm a report" : "End a report"}</h1>}
      {state.problem && <Notice kind="error">{state.problem}</Notice>}
      {state.done && view.ok && (
        <Notice kind="fine">
          {isConfirm ? `${view.address} gets "${view.report}" from now on.` : `${view.address} gets "${view.report}" no more.`}
        </Notice>
      )}
      {!state.done && view.ok && !state.problem && (
        <>
          <h1 className="mb-3 font-medium text-[20px] leading-7">
            {isConfirm ? `Send "${view.report}" to ${view.address}?` : `No more of "${view.report}" to ${view.address}?`}
          </h1>
          <Button look="strong" onClick={() => void follow()}>
            {isConfirm ? "Yes, send it to me" : "No more of it"}
          </Button>
        </>
      )}
    </div>
  );
}
