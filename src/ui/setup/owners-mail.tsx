"use client";
import { useState } from "react";
import type { OwnersMail as Owners } from "@/services/idle";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { useAttempt } from "../kit/use-attempt";

/** How owners' tags become addresses that are warned. */
export function OwnersMail({ owners }: { owners: Owners }) {
  const { run, isBusy, problem, at } = useAttempt();
  const [tag, setTag] = useState(owners.tag);
  const [domain, setDomain] = useState(owners.domain);
  const isSame = tag.trim() === owners.tag && domain.trim() === owners.domain;
  return (
    <form
      aria-label="How owners are written to"
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void run(() => ask("/api/owners-mail", { method: "PUT", body: { tag: tag.trim(), domain: domain.trim() } }));
      }}
    >
      <Field
        label="Tag that names an owner"
        className="w-[180px]"
        value={tag}
        onChange={({ target }) => setTag(target.value)}
        error={at("tag") ?? null}
      />
      <Field
        label="Their mail is at"
        className="w-[220px]"
        placeholder="the tag is an address"
        value={domain}
        onChange={({ target }) => setDomain(target.value)}
        error={at("domain") ?? problem?.message ?? null}
      />
      <Button type="submit" disabled={isBusy || isSame}>
        Keep
      </Button>
      <p className="min-w-[200px] flex-1 self-center text-soft">
        Idle alarms warn the owner: {tag.trim() || "the tag"} = m.skarv is written to at m.skarv@{domain.trim() || "…"}. Whose tag
        makes no address is not written to; webhooks are told all the same.
      </p>
    </form>
  );
}
