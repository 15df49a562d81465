"use client";
import { useRouter } from "next/navigation";
import { Dialog, DropdownMenu } from "radix-ui";
import { useState } from "react";
import type { FleetSummary } from "@/services/plans";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { useAttempt } from "../kit/use-attempt";
import { ChangeForm } from "./change-form";

const ITEM = "cursor-pointer rounded-brick px-2 py-1 outline-none data-[highlighted]:bg-lit/40";

/** What can be done with a whole fleet: rename, copy, take out of force, retire. */
export function FleetMenu({ fleet }: { fleet: FleetSummary }) {
  const router = useRouter();
  const { run, problem, clear } = useAttempt();
  const [open, setOpen] = useState<"" | "rename" | "out of force" | "retire">("");
  const copy = () =>
    run(async () => {
      const { id } = await ask<{ id: number }>(`/api/fleets/${fleet.id}/copy`, { method: "POST", body: {} });
      router.push(`/fleets/${id}`);
    });
  const close = () => setOpen("");
  return (
    <>
      <DropdownMenu.Root onOpenChange={clear}>
        <DropdownMenu.Trigger asChild>
          <Button look="quiet" className="px-2!" aria-label={`More of ${fleet.name}`}>
            more
          </Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            className="z-20 min-w-[170px] rounded-brick border border-lines bg-raised p-1 shadow-xl"
          >
            <DropdownMenu.Item className={ITEM} onSelect={() => setOpen("rename")}>
              Rename…
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => void copy()}>
              Copy
            </DropdownMenu.Item>
            {fleet.isInForce && (
              <DropdownMenu.Item className={ITEM} onSelect={() => setOpen("out of force")}>
                Take out of force…
              </DropdownMenu.Item>
            )}
            <DropdownMenu.Item className={ITEM} onSelect={() => setOpen("retire")}>
              Retire…
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {problem && <Notice kind="error">{problem.message}</Notice>}
      {open !== "" && (
        <Dialog.Root open onOpenChange={(isOpen) => !isOpen && close()}>
          <Dialog.Portal>
            <Dialog.Overlay className="fixed inset-0 z-20 bg-shade-deep/45" />
            <Dialog.Content className="fixed top-[12vh] left-1/2 z-30 flex max-h-[76vh] w-[560px] max-w-[94vw] -translate-x-1/2 flex-col gap-3 overflow-auto rounded-brick bg-paper p-5 shadow-xl">
              <Dialog.Title className="font-semibold text-[18px]">{TITLES[open](fleet.name)}</Dialog.Title>
              <Dialog.Description className={open === "rename" ? "text-soft" : ""}>{WORDS[open]}</Dialog.Description>
              {open === "rename" ? (
                <Rename fleet={fleet} onDone={close} />
              ) : (
                <ChangeForm
                  change={{ kind: open, id: fleet.id }}
                  version={fleet.version}
                  label={open === "retire" ? "Retire" : "Take out of force"}
                  back="Leave it"
                  onDone={close}
                  onBack={close}
                />
              )}
            </Dialog.Content>
          </Dialog.Portal>
        </Dialog.Root>
      )}
    </>
  );
}

const TITLES = {
  rename: (name: string) => `Rename ${name}`,
  "out of force": (name: string) => `Take ${name} out of force`,
  retire: (name: string) => `Retire ${name}`,
};
const WORDS = {
  rename: "Its holds and savings follow. The journal keeps what it told under the old name.",
  "out of force": "Its machines are left as they are, or go to the next fleet that matches them. The plan stays as a draft.",
  retire: "It looks after nothing any more and leaves the list; it can be brought back from below it.",
};

function Rename({ fleet, onDone }: { fleet: FleetSummary; onDone: () => void }) {
  const { run, isBusy, problem, at } = useAttempt();
  const [name, setName] = useState(fleet.name);
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={async (event) => {
        event.preventDefault();
        const body = { name, version: fleet.version };
        if (await run(() => ask(`/api/fleets/${fleet.id}/name`, { method: "PUT", body }))) onDone();
      }}
    >
      <Field label="Name" value={name} onChange={(event) => setName(event.target.value)} error={at("name")} />
      {problem && at("name") === null && <Notice kind="error">{problem.message}</Notice>}
      <div className="flex items-center gap-3">
        <Button type="submit" look="strong" disabled={isBusy || name.trim() === "" || name.trim() === fleet.name}>
          Rename
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}
