"use client";
import { useRouter, useSearchParams } from "next/navigation";
import { useState } from "react";
import type { Found } from "@/services/inventory";
import { AtLink } from "../as-of/at-link";
import { StateBrick } from "../kit/brick";
import { Button } from "../kit/button";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";
import { levelWord } from "../kit/level-word";
import { dayTimePlace } from "../kit/when";
import { StartPress } from "./start-press";

export type ResourcesProps = {
  found: Found;
  text: string;
  from: number;
  page: number;
  /** Tag keys that are columns, too. */
  columns: readonly string[];
  zone: string;
};

/** Everything there is, on or off, by words, a selector or an address; tags are columns of choice. */
export function Resources({ found, text, from, page, columns, zone }: ResourcesProps) {
  const router = useRouter();
  const params = useSearchParams();
  const [typed, setTyped] = useState(text);
  const addressOf = (more: { find?: string; tag?: readonly string[]; from?: number }) => {
    const next = new URLSearchParams(params);
    next.delete("tag");
    next.delete("from");
    for (const key of more.tag ?? columns) next.append("tag", key);
    if (more.find !== undefined) next.set("find", more.find);
    if (more.from) next.set("from", String(more.from));
    return `/resources?${next}`;
  };
  const { items, total, tagKeys } = found;
  return (
    <div className="px-4 py-3">
      <div className="mb-2 flex flex-wrap items-end gap-3">
        <h1 className="mr-auto font-medium text-[20px] leading-7">
          {text === "" ? `${total} resources, on and off.` : `${total} found for ${text}.`}
        </h1>
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            router.push(addressOf({ find: typed.trim() }));
          }}
        >
          <Field
            label="Words, a selector, or a page's address"
            isLabelHidden
            placeholder="Words, a selector, an address"
            className="w-[260px]"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
          <Button type="submit">Look</Button>
        </form>
        <Choice
          label="Column"
          isLabelBeside
          options={[
            { value: "", label: "add a tag" },
            ...tagKeys.filter((key) => !columns.includes(key)).map((key) => ({ value: key, label: key })),
          ]}
          value=""
          onChange={(event) => event.target.value !== "" && router.push(addressOf({ tag: [...columns, event.target.value] }))}
        />
      </div>
      {items.length === 0 ? (
        <p className="text-soft">
          Nothing there is matches. Look by part of a name, an owner, or a tag such as team = draughting.
        </p>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full">
            <thead>
              <tr className="h-[30px] border-lines border-b text-left text-[13px]">
                {["Name", "State", "Fleet", "Owner", "Region", "Account", "Size"].map((head) => (
                  <th key={head} className="pr-3 font-semibold">
                    {head}
                  </th>
                ))}
                {columns.map((key) => (
                  <th key={key} className="whitespace-nowrap pr-3 font-semibold">
                    {key}
                    <button
                      type="button"
                      aria-label={`Take the column ${key} away`}
                      className="ml-1 px-1 text-soft hover:text-ink"
                      onClick={() => router.push(addressOf({ tag: columns.filter((other) => other !== key) }))}
                    >
                      ×
                    </button>
                  </th>
                ))}
                <th>
                  <span className="sr-only">Start</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {items.map((resource) => (
                <tr key={resource.id} className="h-[30px] border-lines border-b hover:bg-raised">
                  <td className="max-w-[220px] truncate pr-3">
                    <AtLink href={`/machines/${encodeURIComponent(resource.id)}`}>{resource.name}</AtLink>
                  </td>
                  <td className="pr-3" title={`since ${dayTimePlace(resource.since, zone)}`}>
                    <StateBrick state={resource.state} />
                    {resource.kind !== "machine" && resource.level > 0 && `, ${levelWord(resource.level)}`}
                  </td>
                  <td className="max-w-[150px] truncate pr-3">{resource.fleet ?? <span className="text-soft">none</span>}</td>
                  <td className="max-w-[190px] truncate pr-3">{resource.owner}</td>
                  <td className="pr-3">{resource.region}</td>
                  <td className="pr-3">{resource.account}</td>
                  <td className="pr-3">{resource.size || resource.kind}</td>
                  {columns.map((key) => (
                    <td key={key} className="max-w-[160px] truncate pr-3">
                      {resource.tags[key] ?? ""}
                    </td>
                  ))}
                  <td className="text-right">
                    {resource.startLevel !== null && (
                      <StartPress id={resource.id} name={resource.name} level={resource.startLevel} />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className="mt-2 flex gap-4">
        {from > 0 && <AtLink href={addressOf({ from: Math.max(0, from - page) })}>Earlier rows</AtLink>}
        {from + items.length < total && (
          <AtLink href={addressOf({ from: from + page })}>Further rows, from {from + page + 1}</AtLink>
        )}
      </p>
    </div>
  );
}
