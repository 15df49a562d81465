"use client";
import { Field } from "../kit/field";
import { placeOf } from "../kit/when";
import type { SaidHours } from "../ledger/first-round";

export type ByTagProps = { tagKey: string; said: readonly SaidHours[]; onKey: (key: string) => void };

/** Each machine names its own hours: what they say, how many say it, and what of it cannot be followed. */
export function ByTag({ tagKey, said, onKey }: ByTagProps) {
  return (
    <div className="flex flex-col gap-2">
      <Field
        label="Tag that names the hours"
        className="w-[200px]"
        value={tagKey}
        onChange={(event) => onKey(event.target.value)}
        error={tagKey.trim() === "" ? "needs a tag's key" : null}
        hint="a schedule's name, or a whole line such as Mo-Fr 08:00-18:00"
      />
      <table className="w-full">
        <caption className="sr-only">What the tags say</caption>
        <tbody>
          {said.map(({ found, text, machines }) => (
            <tr key={`${found.kind} ${text} ${machines[0]}`} className="h-[28px] border-lines border-b">
              <td className="pr-3 font-semibold">{found.kind === "untagged" ? "no such tag" : text}</td>
              <td className="pr-3 text-right" title={machines.join(", ")}>
                {machines.length}
              </td>
              <td className={found.kind === "schedule" ? "text-soft" : ""}>
                <Reading said={{ found, text, machines }} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Reading({ said: { found, text, machines } }: { said: SaidHours }) {
  switch (found.kind) {
    case "schedule": {
      const { name, zone } = found.compiled.schedule;
      return name === text ? `the schedule, in ${placeOf(zone)} time` : `a line, in ${placeOf(zone)} time`;
    }
    case "unknown":
      return <>△ names no hours{found.nearest !== null && `; the nearest is ${found.nearest}`}: left alone</>;
    case "unreadable":
      return (
        <>
          △ does not read, {found.message}
          {found.nearest !== null && `; the nearest is ${found.nearest}`}: left alone
        </>
      );
    case "untagged":
      return `${machines.slice(0, 4).join(", ")}${machines.length > 4 ? ", …" : ""}: left alone`;
    case "none":
      return "";
  }
}
