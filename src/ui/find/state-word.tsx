import type { FoundResource } from "@/services";

/** What a resource does, in a word: on, off, or on its way. */
export function StateWord({ of: { state, level, kind } }: { of: FoundResource }) {
  const isOn = level > 0;
  const many = (kind === "group" || kind === "service") && isOn ? `, level ${level}` : "";
  return (
    <span className="whitespace-nowrap">
      <span aria-hidden className={`mr-1.5 inline-block size-2.5 rounded-[2px] ${isOn ? "bg-lit" : "bg-shade-deep"}`} />
      {state === "running" ? "on" : state === "stopped" ? "off" : state}
      {many}
    </span>
  );
}
