"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { StrayAges } from "@/core/strays";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { useUntilTyped } from "../kit/use-until-typed";

/** From how many days on an image is old and a run long. */
export function Ages({ ages }: { ages: StrayAges }) {
  const router = useRouter();
  const [image, setImage] = useState(String(ages.imageDays));
  const [run, setRun] = useState(String(ages.runDays));
  const [problem, setProblem] = useState("");
  useUntilTyped(problem !== "", () => setProblem(""));
  const isChanged = image !== String(ages.imageDays) || run !== String(ages.runDays);
  async function save() {
    try {
      await ask("/api/strays/ages", { method: "PUT", body: { imageDays: Number(image), runDays: Number(run) } });
      setProblem("");
      router.refresh();
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
  }
  const field = (label: string, value: string, change: (text: string) => void) => (
    <input
      aria-label={label}
      inputMode="numeric"
      className="h-6 w-[52px] rounded-brick border border-ink/40 bg-raised px-1.5 text-right"
      value={value}
      onChange={(event) => change(event.target.value)}
    />
  );
  return (
    <form
      className="mt-4 flex items-center gap-2 text-[13px]"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      An image is old after {field("Days until an image is old", image, setImage)} days, a run long after{" "}
      {field("Days until a run is long", run, setRun)} days.
      {isChanged && (
        <Button type="submit" className="h-6! px-2! text-[13px]">
          Set
        </Button>
      )}
      {problem && (
        <span role="alert" className="text-loss">
          {problem}
        </span>
      )}
    </form>
  );
}
