"use client";
import { useRouter, useSearchParams } from "next/navigation";
import { useState } from "react";
import { atAddress } from "../as-of/address";

/** A word or a selector, and off to what runs under it. */
export function GoBox() {
  const router = useRouter();
  const params = useSearchParams();
  const [text, setText] = useState("");
  return (
    <search>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          const address = text.trim() === "" ? "/" : `/?filter=${encodeURIComponent(text.trim())}`;
          router.push(atAddress(address, { at: params.get("at"), money: params.get("money") }));
        }}
      >
        <input
          type="search"
          aria-label="Find what runs: a word or a selector"
          placeholder="Find: a word, or team = draughting"
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="h-[30px] w-[250px] rounded-brick border border-ink/40 bg-raised px-2 placeholder:text-soft"
        />
      </form>
    </search>
  );
}
