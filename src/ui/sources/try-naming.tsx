"use client";
import { useState } from "react";
import type { Stranger } from "@/services/metrics";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import type { Naming } from "./naming-fields";
import { Strangers } from "./strangers";

type Answer = { matched: number; unmatched: number; strangers: Stranger[]; attributes: string[] };

/** What a rule would make of the hosts named so far, before it is kept. */
export function TryNaming({ id, naming }: { id: number; naming: Naming }) {
  const [answer, setAnswer] = useState<Answer | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <div>
      <Button
        onClick={() =>
          ask<Answer>(`/api/sources/${id}/try`, { method: "POST", body: { naming } }).then(
            (made) => {
              setAnswer(made);
              setProblem(null);
            },
            (error: unknown) => setProblem(error instanceof AnswerError ? error.message : String(error)),
          )
        }
      >
        Try it on the hosts so far
      </Button>
      {problem && <Notice kind="error">{problem}</Notice>}
      {answer && (
        <Notice kind={answer.unmatched === 0 && answer.matched > 0 ? "fine" : "warning"}>
          {answer.matched + answer.unmatched === 0
            ? "Nothing has come yet: there is no host to try it on."
            : `${answer.matched} of ${answer.matched + answer.unmatched} hosts name a machine. Their attributes: ${answer.attributes.join(", ")}.`}
          <Strangers hosts={answer.strangers} of={answer.unmatched} />
        </Notice>
      )}
    </div>
  );
}
