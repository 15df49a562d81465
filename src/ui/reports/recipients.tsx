"use client";
import { useState } from "react";
import type { OpenReport } from "@/services/report";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { useAttempt } from "../kit/use-attempt";

export type RecipientsProps = { report: OpenReport; onSend: (recipientId: number) => void };

const WORDS = {
  unconfirmed: "asked, has not confirmed",
  confirmed: "gets it",
  unsubscribed: "has unsubscribed",
};

/** Who gets a report, and of what. Nobody gets it before they confirm by the link they are sent. */
export function Recipients({ report, onSend }: RecipientsProps) {
  const attempt = useAttempt();
  const [address, setAddress] = useState("");
  const [scope, setScope] = useState("");
  const invite = async () => {
    const body = { address, scope };
    if (await attempt.run(() => ask(`/api/reports/${report.id}/recipients`, { method: "POST", body }))) {
      setAddress("");
      setScope("");
    }
  };
  return (
    <section aria-label="Recipients">
      <h2 className="mb-1 font-semibold text-[15px]">Who gets it</h2>
      {report.recipients.length === 0 && (
        <p className="text-soft">Nobody yet. An address is asked first, and gets nothing before it confirms.</p>
      )}
      <ul>
        {report.recipients.map(({ id, address: to, scope: of, status, matchesNothing }) => (
          <li key={id} className="flex min-h-[30px] items-center gap-3 border-lines border-b">
            <span className="min-w-0 flex-1 truncate" title={to}>
              {to}
              <span className="text-soft">, {of === "" ? "everything" : of}</span>
              {matchesNothing && <b className="block text-[13px] text-loss">nothing there is matches this scope</b>}
            </span>
            <span className={status === "confirmed" ? "" : "text-soft"}>{WORDS[status]}</span>
            {status === "confirmed" && (
              <Button className="h-6! px-2! text-[13px]" aria-label={`send one now: ${to}`} onClick={() => onSend(id)}>
                send one now
              </Button>
            )}
            <Button
              look="quiet"
              className="h-6! px-1! text-[13px]"
              aria-label={`remove ${to}`}
              onClick={() => void attempt.run(() => ask(`/api/recipients/${id}`, { method: "DELETE", body: {} }))}
            >
              remove
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="mt-2 flex items-start gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void invite();
        }}
      >
        <Field
          label="Address"
          isLabelHidden
          className="w-[210px]"
          placeholder="name@example.org"
          value={address}
          error={attempt.at("address")}
          onChange={(event) => setAddress(event.target.value)}
        />
        <Field
          label="Scope"
          isLabelHidden
          className="flex-1"
          placeholder="everything, or owner = m.skarv"
          value={scope}
          error={attempt.at("scope")}
          onChange={(event) => setScope(event.target.value)}
        />
        <Button type="submit" disabled={attempt.isBusy || address.trim() === ""}>
          Ask them
        </Button>
      </form>
      {attempt.problem && attempt.problem.fields.length === 0 && (
        <p role="alert" className="text-loss">
          {attempt.problem.message}
        </p>
      )}
    </section>
  );
}
