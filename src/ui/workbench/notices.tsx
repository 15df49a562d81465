"use client";
import { useRouter } from "next/navigation";
import { useEffect, useRef } from "react";
import type { MissingStart } from "@/services/inventory";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { Conflict } from "./conflict";
import type { EditedDraft } from "./use-draft";

const NAMES = 5;

/** What needs an answer before the draft can be kept. Where one types may be far down the page: it stays in sight. */
export function SavingNotices({ edited: { draft, saving, flush, accept, onDraft } }: Readonly<{ edited: EditedDraft }>) {
  const { apart } = saving;
  return (
    <div className="sticky top-0 z-10 flex flex-col gap-2 empty:hidden">
      {saving.state === "failed" && (
        <Notice kind="error" action={<Button onClick={() => void flush()}>Try again</Button>}>
          {saving.message}
        </Notice>
      )}
      {apart && (
        <Conflict
          key={apart.version}
          base={apart.base}
          mine={draft}
          theirs={apart.theirs}
          onChosen={(chosen) => {
            accept(apart.theirs, apart.version);
            onDraft(chosen);
          }}
        />
      )}
    </div>
  );
}

/** What should be on by now and is not. */
export function MissingNotice({ missing }: Readonly<{ missing: readonly MissingStart[] }>) {
  if (missing.length === 0) return null;
  const names = missing.slice(0, NAMES).map(({ name }) => name);
  return (
    <Notice kind="error">
      <b>
        {missing.length} should be on and {missing.length === 1 ? "is" : "are"} not
      </b>
      : {names.join(", ")}
      {missing.length > NAMES && ` and ${missing.length - NAMES} more`}. Its provider says: {missing[0]?.lastAnswer}.
    </Notice>
  );
}

/** That the plan is in force; the press that did it is off now, and the keyboard goes on from here. */
export function ForcedNotice({ isForced }: Readonly<{ isForced: boolean }>) {
  const router = useRouter();
  const place = useFocusWhen(isForced);
  if (!isForced) return null;
  return (
    <div ref={place} tabIndex={-1}>
      <Notice kind="fine" action={<Button onClick={() => router.push("/rounds")}>Go to rounds</Button>}>
        In force. The next round goes by it, within a minute.
      </Notice>
    </div>
  );
}

/** Where the keyboard goes on from when a press has gone: a place that takes the focus as soon as it is there. */
function useFocusWhen(isThere: boolean) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (isThere) place.current?.focus();
  }, [isThere]);
  return place;
}
