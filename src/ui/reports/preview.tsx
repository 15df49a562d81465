"use client";
import { useSearchParams } from "next/navigation";
import { useEffect, useState } from "react";
import type { ReportPreview } from "@/services/report";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { MailView } from "./mail-view";

/** The report as it would be mailed now, for everything or for a scope. */
export function Preview({ name, zone }: { name: string; zone: string }) {
  const at = useSearchParams().get("at");
  const [scope, setScope] = useState("");
  const [asked, setAsked] = useState("");
  const [preview, setPreview] = useState<ReportPreview | null>(null);
  const [problem, setProblem] = useState("");
  useEffect(() => {
    const leaving = new AbortController();
    ask<ReportPreview>(
      `/api/reports/preview?${new URLSearchParams({ name, zone, scope: asked, ...(at === null ? {} : { at }) })}`,
      {
        signal: leaving.signal,
      },
    ).then(
      (answer) => {
        setPreview(answer);
        setProblem("");
      },
      (error: unknown) => {
        if (!leaving.signal.aborted) setProblem(error instanceof AnswerError ? error.message : String(error));
      },
    );
    return () => leaving.abort();
  }, [name, zone, asked, at]);
  return (
    <section aria-label="Preview" className="min-w-0">
      <form
        className="mb-2 flex items-start gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setAsked(scope.trim());
        }}
      >
        <h2 className="py-1 font-semibold text-[15px]">
          {at === null ? "As it would be mailed now" : "As it would be mailed then"}
        </h2>
        <Field
          label="For the scope"
          isLabelHidden
          className="ml-auto w-[220px]"
          placeholder="for everything, or a selector"
          value={scope}
          error={problem || null}
          onChange={(event) => setScope(event.target.value)}
        />
        <Button type="submit">Show</Button>
      </form>
      {preview ? (
        <MailView subject={preview.subject} html={preview.html} text={preview.text} />
      ) : (
        <p className="text-soft">writing it…</p>
      )}
    </section>
  );
}
