"use client";
import { Dialog } from "radix-ui";
import { useEffect, useRef, useState } from "react";

const KEYS: readonly (readonly [keys: string, what: string])[] = [
  ["?", "this list"],
  ["Tab, Shift Tab", "from one control to the next and back"],
  ["Ctrl Z, Ctrl Y", "in a fleet: undo, redo, a field, a stroke or a press at a time"],
  ["Arrows, Home, End", "on the week wall: move by half an hour or a row"],
  ["Shift and arrows", "on the week wall: select"],
  ["Space or Enter", "on the week wall: paint what is selected, or clear it"],
  ["1 to 9", "on the week wall: set the level"],
  ["0", "on the week wall: off"],
  ["c, v", "on the week wall: take a row, lay it down on another"],
  ["Escape", "close what floats"],
];

/** The keys there are, opened by `?` wherever nothing is being typed. */
export function KeysHelp() {
  const [isOpen, setIsOpen] = useState(false);
  /** Where the keyboard was when the key was pressed: closing goes back there. */
  const before = useRef<HTMLElement | null>(null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const isTyping = event.target instanceof HTMLElement && event.target.closest("input, select, textarea") !== null;
      if (event.key !== "?" || isTyping) return;
      before.current = document.activeElement instanceof HTMLElement ? document.activeElement : null;
      setIsOpen(true);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <Dialog.Root open={isOpen} onOpenChange={setIsOpen}>
      <Dialog.Trigger className="h-[30px] rounded-brick border border-transparent px-2 hover:border-lines">
        <span aria-hidden>?</span>
        <span className="sr-only">Keys</span>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-shade-deep/45" />
        <Dialog.Content
          aria-describedby={undefined}
          onCloseAutoFocus={(event) => {
            if (!before.current) return;
            event.preventDefault();
            before.current.focus();
            before.current = null;
          }}
          className="fixed top-[12vh] left-1/2 z-30 w-[min(480px,94vw)] -translate-x-1/2 rounded-brick bg-paper p-5 shadow-xl"
        >
          <Dialog.Title className="mb-2 font-semibold text-[18px]">Keys</Dialog.Title>
          <dl className="grid grid-cols-[150px_1fr]">
            {KEYS.map(([keys, what]) => (
              <div key={keys} className="contents">
                <dt className="border-lines border-b py-1 font-semibold">{keys}</dt>
                <dd className="border-lines border-b py-1">{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
