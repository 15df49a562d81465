"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { OpenReport, ReportDraft, ReportsView } from "@/services/report";
import { ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { ProblemNotice } from "../kit/problem";
import { RemoveButton } from "../kit/remove-button";
import { useAttempt } from "../kit/use-attempt";
import { dayTimePlace } from "../kit/when";
import { Preview } from "./preview";
import { Recipients } from "./recipients";
import { ReportForm } from "./report-form";
import { ReportTabs } from "./tabs";

export type DailyProps = { view: ReportsView; zones: readonly string[] };

const NEW: ReportDraft = {
  name: "Daily report",
  zone: "UTC",
  minute: 1080,
  days: ["mon", "tue", "wed", "thu", "fri"],
  isOn: true,
};

/** The daily reports: who gets which and when, and each as it would be mailed now. */
export function Daily({ view, zones }: DailyProps) {
  const router = useRouter();
  const [chosenId, setChosenId] = useState<number | null>(view.reports[0]?.id ?? null);
  /** One that was made just now, until the page knows of it. */
  const [madeId, setMadeId] = useState<number | null>(null);
  const attempt = useAttempt();
  const [sent, setSent] = useState("");
  const found = view.reports.find(({ id }) => id === chosenId);
  // One that is gone gives way to the first; one that is being made does not.
  const report = found ?? (chosenId === null || chosenId === madeId ? undefined : view.reports[0]);
  const draft = report ? draftOf(report) : { ...NEW, zone: zones[0] ?? "UTC" };
  const choose = (id: number | null) => {
    setChosenId(id);
    setSent("");
    attempt.clear();
  };
  const save = (edited: ReportDraft) =>
    attempt.run(async () => {
      setSent("");
      const body = { version: report?.version ?? 0, draft: edited };
      if (report) return ask(`/api/reports/${report.id}`, { method: "PUT", body });
      const { id } = await ask<{ id: number }>("/api/reports", { method: "POST", body });
      setMadeId(id);
      setChosenId(id);
    });
  const send = (recipientId: number | null) =>
    attempt.run(async () => {
      const { mails } = await ask<{ mails: number }>(`/api/reports/${report?.id}/send`, {
        method: "POST",
        body: { recipientId },
      });
      setSent(`${mails} ${mails === 1 ? "mail is" : "mails are"} on the way.`);
    });
  return (
    <div className="px-4 py-3">
      <ReportTabs />
      <div className="grid grid-cols-1 lg:grid-cols-[minmax(0,5fr)_minmax(0,6fr)] gap-6">
        <div className="flex flex-col gap-4">
          <div className="flex items-center gap-2">
            {view.reports.map((one) => (
              <Button
                key={one.id}
                aria-pressed={one.id === report?.id}
                className={one.id === report?.id ? "border-ink! font-semibold" : ""}
                onClick={() => choose(one.id)}
              >
                {one.name}
              </Button>
            ))}
            <Button look="quiet" onClick={() => choose(null)}>
              New report
            </Button>
          </div>
          <h1 className="font-medium text-[17px] leading-6" data-testid="next">
            {report ? nextWords(report, view.now) : "A new report"}
          </h1>
          {sent && (
            <Notice
              kind="fine"
              action={
                <Button look="quiet" onClick={() => router.push("/reports/mails")}>
                  See it
                </Button>
              }
            >
              {sent}
            </Notice>
          )}
          <ProblemNotice problem={attempt.problem} />
          <ReportForm
            key={report ? report.id : "new"}
            draft={draft}
            zones={zones}
            isNew={!report}
            onSave={(edited) => void save(edited)}
          />
          {report && (
            <>
              <Recipients report={report} onSend={(id) => void send(id)} />
              <p>
                <RemoveButton key={report.id} isAlone name={report.name} path={`/api/reports/${report.id}`} />
              </p>
            </>
          )}
        </div>
        <Preview name={draft.name} zone={draft.zone} />
      </div>
    </div>
  );
}

function draftOf({ name, zone, minute, days, isOn }: OpenReport): ReportDraft {
  return { name, zone, minute, days: [...days], isOn };
}

function nextWords(report: OpenReport, now: number): string {
  const confirmed = report.recipients.filter(({ status }) => status === "confirmed").length;
  if (!report.isOn) return "Switched off: it is not sent by itself.";
  if (report.next === null) return "No day is chosen: it is not sent by itself.";
  const when = dayTimePlace(report.next, report.zone, now);
  if (confirmed === 0) return `Next on ${when}, to nobody yet: a recipient has to confirm first.`;
  return `Next on ${when}, to ${confirmed} ${confirmed === 1 ? "reader" : "readers"}.`;
}
