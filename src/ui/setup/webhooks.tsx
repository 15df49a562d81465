"use client";
import { useState } from "react";
import type { WebhookView } from "@/services/notify";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { Notice } from "../kit/notice";
import { RemoveButton } from "../kit/remove-button";
import { useAttempt } from "../kit/use-attempt";
import { dayAndTime } from "../kit/when";

export type WebhooksProps = { hooks: readonly WebhookView[]; zone: string; now: number };

/** Addresses that are told of what rounds do, with what was told and what they answered. */
export function Webhooks({ hooks, zone, now }: WebhooksProps) {
  const { run, isBusy, problem, at } = useAttempt();
  const [url, setUrl] = useState("");
  const [made, setMade] = useState<{ url: string; secret: string } | null>(null);
  return (
    <div className="max-w-[860px]">
      <p className="mb-2">
        Told when an action is done, failed or given up, when stops are held, and when something needs a person: CloudEvents 1.0
        as JSON, signed with a secret of the address's own.
      </p>
      <form
        aria-label="New webhook"
        className="mb-2 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void run(async () => {
            const { secret } = await ask<{ secret: string }>("/api/webhooks", { method: "POST", body: { url } });
            setMade({ url, secret });
            setUrl("");
          });
        }}
      >
        <Field
          label="Address"
          className="w-[420px]"
          placeholder="https://hooks.example/umbrik"
          value={url}
          onChange={(event) => setUrl(event.target.value)}
          error={at("url")}
        />
        <Button type="submit" disabled={isBusy || url.trim() === ""}>
          Tell this address
        </Button>
      </form>
      {problem && at("url") === null && <Notice kind="error">{problem.message}</Notice>}
      {made && (
        <Notice kind="fine">
          {made.url} is told from now on. Its secret, shown this once: <code className="break-all">{made.secret}</code>
        </Notice>
      )}
      <ul>
        {hooks.map((hook) => (
          <Hook key={hook.id} hook={hook} zone={zone} now={now} />
        ))}
      </ul>
    </div>
  );
}

function Hook({ hook, zone, now }: { hook: WebhookView; zone: string; now: number }) {
  const { run, isBusy, problem } = useAttempt();
  const [secret, setSecret] = useState<string | null>(null);
  const [isAsked, setAsked] = useState(false);
  const path = `/api/webhooks/${hook.id}`;
  const renew = async () => {
    setAsked(false);
    setSecret((await ask<{ secret: string }>(`${path}/secret`, { method: "POST" })).secret);
  };
  const [last] = hook.deliveries;
  return (
    <li className="border-lines border-b py-1">
      <div className="flex flex-wrap items-center gap-2">
        <span className="min-w-0 flex-1 truncate font-semibold" title={hook.url}>
          {hook.url}
        </span>
        <span className={last?.status === "failed" ? "text-loss" : "text-soft"}>
          {hook.isOn ? (last ? `${last.status}: ${last.answer || "on its way"}` : "told nothing yet") : "off"}
        </span>
        <Button disabled={isBusy} onClick={() => run(() => ask(`${path}/test`, { method: "POST" }))}>
          Test
        </Button>
        <Button disabled={isBusy} onClick={() => run(() => ask(path, { method: "PUT", body: { isOn: !hook.isOn } }))}>
          {hook.isOn ? "Turn off" : "Turn on"}
        </Button>
        <Button disabled={isBusy} onClick={() => (isAsked ? run(renew) : setAsked(true))} onBlur={() => setAsked(false)}>
          {isAsked ? "Renew: the one before ends" : "New secret"}
        </Button>
        <RemoveButton name={hook.url} path={path} />
      </div>
      {secret && (
        <Notice kind="fine">
          What is sent from now on is signed with this secret, shown this once: <code className="break-all">{secret}</code>
        </Notice>
      )}
      {problem && <Notice kind="error">{problem.message}</Notice>}
      {hook.deliveries.length > 0 && (
        <details className="text-[13px]">
          <summary className="cursor-pointer text-soft">The last {hook.deliveries.length} that were told</summary>
          <ul>
            {hook.deliveries.map(({ id, type, status, answer, attempts, at: when }) => (
              <li key={id} className="flex gap-3 border-lines border-b py-0.5">
                <span className="w-[130px] whitespace-nowrap">{dayAndTime(when, zone, now)}</span>
                <span className="w-[190px]">{type}</span>
                <span className={`w-[80px] ${status === "failed" ? "text-loss" : ""}`}>{status}</span>
                <span className="min-w-0 flex-1 truncate">
                  {answer}
                  {attempts > 1 && `, ${attempts} tries`}
                </span>
                {status === "failed" && (
                  <button
                    type="button"
                    className="underline"
                    onClick={() => run(() => ask(`/api/deliveries/${id}`, { method: "POST" }))}
                  >
                    try again
                  </button>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
    </li>
  );
}
