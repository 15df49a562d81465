"use client";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { type IdleRule, ruleWords } from "@/core/idle";
import type { FleetDraft } from "@/core/plan";
import type { ForcePreview, PreviewChange } from "@/services/plans";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { levelWord } from "../kit/level-word";
import { Notice } from "../kit/notice";
import { dayTimePlace } from "../kit/when";
import { MixSoon } from "./mix-soon";

export type ForceDialogProps = {
  fleetId: number;
  draft: FleetDraft;
  /** Saves what is left of the draft; the version it is at, or null where it could not be saved. */
  flush: () => Promise<number | null>;
  onClose: () => void;
  onForced: (version: number) => void;
};

/** What changes in the first round and over the next day, a word of why, and the press. */
export function ForceDialog({ fleetId, draft, flush, onClose, onForced }: ForceDialogProps) {
  const [preview, setPreview] = useState<ForcePreview | null>(null);
  const [problem, setProblem] = useState<AnswerError | null>(null);
  const [why, setWhy] = useState("");
  const [isBusy, setIsBusy] = useState(false);

  useEffect(() => {
    ask<ForcePreview>(`/api/fleets/${fleetId}/preview`, { method: "POST", body: { draft } }).then(setPreview, (error: unknown) =>
      setProblem(error instanceof AnswerError ? error : new AnswerError(String(error), "")),
    );
  }, [fleetId, draft]);

  async function force() {
    if (!preview) return;
    setIsBusy(true);
    setProblem(null);
    try {
      const version = await flush();
      if (version === null) throw new AnswerError("The draft could not be saved, so nothing was put in force.", "");
      const answer = await ask<{ version: number }>(`/api/fleets/${fleetId}/force`, {
        method: "POST",
        body: { version, why, confirmedStops: preview.stops.length, replaces: preview.replaces },
      });
      onForced(answer.version);
    } catch (error) {
      setProblem(error instanceof AnswerError ? error : new AnswerError(String(error), ""));
      setIsBusy(false);
    }
  }

  const whyIssue = problem?.fields.find(({ path }) => path === "why")?.message;
  const canForce = preview !== null && preview.issues.length === 0;
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-shade-deep/45" />
        <Dialog.Content className="fixed top-[8vh] left-1/2 z-30 flex max-h-[84vh] w-[min(620px,94vw)] -translate-x-1/2 flex-col gap-3 overflow-auto rounded-brick bg-paper p-5 shadow-xl">
          <Dialog.Title className="font-semibold text-[18px]">Put {draft.name} in force</Dialog.Title>
          <Dialog.Description className="sr-only">What the plan will do, and a word of why.</Dialog.Description>
          {!preview && !problem && <p className="text-soft">Deciding the first round…</p>}
          {preview && <Effects preview={preview} />}
          {canForce && <Watched rules={draft.idle ?? []} />}
          {canForce && draft.mix && <MixSoon preview={preview} mix={draft.mix} />}
          {preview?.issues.map(({ path, message }) => (
            <Notice key={path + message} kind="error">
              <b>{path}</b>: {message}
            </Notice>
          ))}
          {problem && !whyIssue && (
            <Notice kind="error">
              {[problem.message, ...problem.fields.map(({ path, message }) => `${path}: ${message}`)].join(" ")}
            </Notice>
          )}
          {canForce && (
            <form
              className="flex flex-col gap-3"
              onSubmit={(event) => {
                event.preventDefault();
                void force();
              }}
            >
              <Field
                label="Why"
                value={why}
                onChange={(event) => setWhy(event.target.value)}
                placeholder="for whoever reads the log"
                error={whyIssue}
              />
              <div className="flex items-center gap-3">
                <Button type="submit" look="strong" disabled={isBusy || why.trim() === ""}>
                  {isBusy
                    ? "Putting in force…"
                    : preview.stops.length > 0
                      ? `Put in force and stop ${preview.stops.length}`
                      : "Put in force"}
                </Button>
                <Button onClick={onClose}>Not yet</Button>
                <span className="text-[13px] text-soft">The next round goes by it, within a minute.</span>
              </div>
            </form>
          )}
          {!canForce && <Button onClick={onClose}>Back to the plan</Button>}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Effects({ preview }: { preview: ForcePreview }) {
  const { stops, starts, resizes, waiting, matches, edges, lowered, alsoMoves } = preview;
  return (
    <div className="flex flex-col gap-2">
      <p className="text-[16px]" data-testid="effects">
        First round: stops <b>{stops.length}</b>, starts <b>{starts.length}</b>
        {resizes.length > 0 && (
          <>
            , resizes <b>{resizes.length}</b>
          </>
        )}{" "}
        of {matches}.{waiting > 0 && ` ${waiting} wait for a change under way or for the end of a paid block.`}
      </p>
      <ChangeList title="Stops" changes={stops} />
      <ChangeList title="Starts" changes={starts} />
      <ChangeList title="Resizes" changes={resizes} />
      {lowered.map(({ name, had, most }) => (
        <Notice key={name} kind="warning">
          <b>{name}</b> never has more than <b>{most}</b> of the <b>{had}</b> it has had: part of the saving is running fewer.
        </Notice>
      ))}
      {alsoMoves.length > 0 && (
        <Notice kind="warning">
          The changed schedule also moves <b>{alsoMoves.map(({ fleet, machines }) => `${fleet} (${machines})`).join(", ")}</b>.
        </Notice>
      )}
      {edges.length > 0 && (
        <div>
          <h3 className="font-semibold text-[13px]">Next day</h3>
          <ul>
            {edges.map(({ at, to, because, zone }) => (
              <li key={`${at} ${zone} ${to}`}>
                {dayTimePlace(at, zone)}: {levelWord(to)} <span className="text-soft">because of {because}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}

/** What idle alarms will look at from then on; whom that turns off only the coming samples say. */
function Watched({ rules }: { rules: readonly IdleRule[] }) {
  if (rules.length === 0) return null;
  return (
    <div>
      <h3 className="font-semibold text-[13px]">Idle alarms watch from then on</h3>
      <ul>
        {rules.map((rule) => (
          <li key={ruleWords(rule)}>
            {ruleWords(rule)}:{" "}
            {rule.action === "tell"
              ? "its owner is told"
              : `its owner is warned, and ${rule.warn} min later it is ${rule.action === "hibernate" ? "hibernated" : "stopped"}`}
          </li>
        ))}
      </ul>
    </div>
  );
}

function ChangeList({ title, changes }: { title: string; changes: readonly PreviewChange[] }) {
  if (changes.length === 0) return null;
  return (
    <details open={changes.length <= 12}>
      <summary className="cursor-pointer font-semibold text-[13px]">
        {title} {changes.length}
      </summary>
      <ul className="max-h-[150px] columns-2 overflow-auto text-[13px]" tabIndex={0} aria-label={title}>
        {changes.map(({ id, name, verb, level }) => (
          <li key={id}>
            {name} <span className="text-soft">{verb === "resize" ? `→ ${level}` : verb}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
