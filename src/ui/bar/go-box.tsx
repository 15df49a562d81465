"use client";
import { useRouter, useSearchParams } from "next/navigation";
import { type KeyboardEvent, useCallback, useEffect, useRef, useState } from "react";
import type { Found } from "@/services/inventory";
import { atAddress } from "../as-of/address";
import { AtLink } from "../as-of/at-link";
import { StartPress } from "../find/start-press";
import { ask } from "../kit/ask";
import { StateBrick } from "../kit/brick";
import { useLive } from "../kit/use-live";

/** How long one types before it is looked for. */
const PAUSE_MS = 150;

/** Words or a selector: what there is, on or off, stands below while one types; Enter goes to what runs of it. */
export function GoBox() {
  const router = useRouter();
  const params = useSearchParams();
  const at = params.get("at");
  const [text, setText] = useState("");
  const [isOpen, setIsOpen] = useState(false);
  const box = useRef<HTMLElement>(null);
  const found = useFound(isOpen ? text.trim() : "", at);
  useEffect(() => {
    const close = ({ target }: PointerEvent) => !box.current?.contains(target as Node) && setIsOpen(false);
    document.addEventListener("pointerdown", close);
    return () => document.removeEventListener("pointerdown", close);
  }, []);
  const go = (address: string) => {
    setIsOpen(false);
    router.push(atAddress(address, { at, money: params.get("money") }));
  };
  /** Arrows go through what can be pressed; Escape goes back to the words. */
  const onKeyDown = (event: KeyboardEvent) => {
    const input = box.current?.querySelector("input");
    if (event.key === "Escape" && isOpen) {
      event.stopPropagation();
      setIsOpen(false);
      input?.focus();
    }
    if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
    const stops = [...(box.current?.querySelectorAll<HTMLElement>("input, [data-found]") ?? [])];
    const here = stops.indexOf(document.activeElement as HTMLElement);
    const next = stops[here + (event.key === "ArrowDown" ? 1 : -1)];
    if (!next) return;
    event.preventDefault();
    next.focus();
  };
  return (
    <search
      ref={box}
      className="relative"
      onKeyDown={onKeyDown}
      onBlur={(event) => {
        // What was pressed may be gone for its answer: that takes the focus nowhere.
        const { relatedTarget } = event;
        if (relatedTarget && !event.currentTarget.contains(relatedTarget)) setIsOpen(false);
      }}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          go(text.trim() === "" ? "/" : `/?filter=${encodeURIComponent(text.trim())}`);
        }}
      >
        <input
          type="search"
          aria-label="Find what there is: words or a selector"
          placeholder="Find: a word, or team = draughting"
          value={text}
          onFocus={() => setIsOpen(true)}
          onChange={(event) => {
            setText(event.target.value);
            setIsOpen(true);
          }}
          className="h-[30px] w-[250px] max-w-full rounded-brick border border-ink/40 bg-raised px-2 placeholder:text-soft"
        />
      </form>
      {isOpen && text.trim() !== "" && found && (
        <section
          aria-label="Found"
          className="absolute top-[34px] right-0 z-20 w-[560px] max-w-[94vw] rounded-brick border border-lines bg-raised p-1 shadow-xl"
        >
          <ul>
            {found.items.map((resource) => (
              <li key={resource.id} className="flex h-[30px] items-center gap-3 rounded-brick px-2 hover:bg-lit/30">
                <AtLink
                  data-found
                  href={`/machines/${encodeURIComponent(resource.id)}`}
                  className="w-[170px] shrink-0 truncate font-semibold"
                  onClick={() => setIsOpen(false)}
                >
                  {resource.name}
                </AtLink>
                <span className="w-[100px] shrink-0">
                  <StateBrick state={resource.state} />
                </span>
                <span className="min-w-0 flex-1 truncate text-[13px] text-soft">
                  {[resource.fleet ?? "no fleet", resource.owner].filter(Boolean).join(", ")}
                </span>
                {resource.startLevel !== null && <StartPress id={resource.id} name={resource.name} level={resource.startLevel} />}
              </li>
            ))}
          </ul>
          <p className="px-2 py-1 text-[13px]">
            {found.total === 0 ? (
              <span className="text-soft">Nothing there is matches, on or off.</span>
            ) : (
              <AtLink data-found href={`/resources?find=${encodeURIComponent(text.trim())}`} onClick={() => setIsOpen(false)}>
                {found.total === 1 ? "It" : `All ${found.total}`} in a list
              </AtLink>
            )}
            <span className="ml-3 text-soft">Enter: what runs of it</span>
          </p>
        </section>
      )}
    </search>
  );
}

/** What is found for a text, once one pauses; it follows what changes elsewhere, and stays until the next is known. */
function useFound(text: string, at: string | null): Found | null {
  const [found, setFound] = useState<Found | null>(null);
  const asked = useRef("");
  const look = useCallback((address: string) => {
    asked.current = address;
    ask<Found>(address).then(
      (answer) => asked.current === address && setFound(answer),
      // Looking is no promise: Enter still goes to what runs.
      () => {},
    );
  }, []);
  useEffect(() => {
    asked.current = "";
    if (text === "") {
      setFound(null);
      return;
    }
    const timer = setTimeout(() => {
      look(`/api/find?${new URLSearchParams({ find: text, ...(at === null ? {} : { at }) })}`);
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [text, at, look]);
  useLive(["round", "holds", "fleets"], () => asked.current !== "" && look(asked.current));
  return found;
}
