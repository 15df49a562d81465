"use client";
import { useRouter } from "next/navigation";
import { useId, useState } from "react";
import type { PlanImport } from "@/services/plans";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";

/** Everything that was planned, out as one file and in again. */
export function PlanFileBox() {
  const router = useRouter();
  const id = useId();
  const [text, setText] = useState("");
  const [preview, setPreview] = useState<PlanImport | null>(null);
  const [problem, setProblem] = useState<AnswerError | null>(null);
  const [isTaken, setIsTaken] = useState(false);

  async function attempt(work: () => Promise<void>) {
    setProblem(null);
    setIsTaken(false);
    try {
      await work();
    } catch (error) {
      setPreview(null);
      setProblem(error instanceof AnswerError ? error : new AnswerError(String(error), ""));
    }
  }
  const look = (file: File) =>
    attempt(async () => {
      const content = await file.text();
      setText(content);
      setPreview(await ask<PlanImport>("/api/plan/preview", { method: "POST", body: { text: content } }));
    });
  const take = () =>
    attempt(async () => {
      await ask("/api/plan", { method: "POST", body: { text, confirmedStops: preview?.moves.stops.length ?? 0 } });
      setPreview(null);
      setIsTaken(true);
      router.refresh();
    });
  const stops = preview?.moves.stops.length ?? 0;
  return (
    <div className="flex max-w-[860px] flex-col gap-2">
      <p className="flex items-center gap-4">
        <a href="/api/plan" download="umbrik-plan.yaml">
          Plan file, YAML
        </a>
        <a href="/api/plan?format=json" download="umbrik-plan.json">
          Plan file, JSON
        </a>
        <span className="text-soft">Calendars, schedules and fleets in one file.</span>
      </p>
      <div className="flex items-center gap-3">
        <label htmlFor={id} className="font-semibold text-[13px]">
          Take in a plan file
        </label>
        <input
          id={id}
          type="file"
          accept=".yaml,.yml,.json"
          className="text-[13px] file:mr-2 file:h-[30px] file:cursor-pointer file:rounded-brick file:border file:border-ink/40 file:border-solid file:bg-raised file:px-3"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            if (file) void look(file);
            event.target.value = "";
          }}
        />
      </div>
      {problem && (
        <Notice kind="error">
          {problem.message}
          {problem.fields.length > 0 && (
            <ul>
              {problem.fields.slice(0, 20).map(({ path, message }) => (
                <li key={path + message}>
                  <b>{path}</b> {message}
                </li>
              ))}
            </ul>
          )}
        </Notice>
      )}
      {preview && (
        <Notice
          kind={stops > 0 ? "warning" : "fine"}
          action={
            <>
              <Button look="strong" onClick={() => void take()}>
                {stops > 0 ? `Take in and stop ${stops}` : "Take it in"}
              </Button>
              <Button look="quiet" onClick={() => setPreview(null)}>
                Not yet
              </Button>
            </>
          }
        >
          {preview.added.length > 0 && <p>New: {preview.added.join(", ")}.</p>}
          {preview.changed.length > 0 && <p>Changed: {preview.changed.join(", ")}.</p>}
          {preview.added.length + preview.changed.length === 0 && <p>Everything in it is stored already.</p>}
          {preview.absent.length > 0 && <p>Not in it, and left as they are: {preview.absent.join(", ")}.</p>}
          <p>
            Fleets become drafts. The next round stops {stops}, starts {preview.moves.starts.length}.
          </p>
        </Notice>
      )}
      {isTaken && <Notice kind="fine">Taken in. Fleets are drafts; put them in force one by one.</Notice>}
    </div>
  );
}
