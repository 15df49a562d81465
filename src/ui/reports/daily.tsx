"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { OpenReport, ReportDraft, ReportsView } from "@/services";
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
  const [isNew, setIsNew] = useState(view.reports.length === 0);
  const attempt = useAttempt();
  const [sent, setSent] = useState("");
  const report = view.reports.find(({ id }) => id === chosenId) ?? view.reports[0];
  const draft = isNew || !report ? { ...NEW, zone: zones[0] ?? "UTC" } : draftOf(report);
  const save = (edited: ReportDraft) =>
    attempt.run(async () => {
      const target = isNew || !report ? "/api/reports" : `/api/reports/${report.id}`;
      await ask(target, { method: isNew || !report ? "POST" : "PUT", body: { version: report?.version ?? 0, draft: edited } });
      setIsNew(false);
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
      <div className="grid grid-cols-[minmax(0,5fr)_minmax(0,6fr)] gap-6">
        <div className="flex flex-col gap-4">
          <div className="flex items-center gap-2">
            {view.reports.map((one) => (
              <Button
                key={one.id}
                aria-pressed={!isNew && one.id === report?.id}
                className={!isNew && one.id === report?.id ? "border-ink! font-semibold" : ""}
                onClick={() => {
                  setChosenId(one.id);
                  setIsNew(false);
                }}
              >
                {one.name}
              </Button>
            ))}
            <Button look="quiet" onClick={() => setIsNew(true)}>
              New report
            </Button>
          </div>
          <h1 className="font-medium text-[17px] leading-6" data-testid="next">
            {isNew || !report ? "A new report" : nextWords(report, view.now)}
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
            key={isNew ? "new" : `${report?.id} ${report?.version}`}
            draft={draft}
            zones={zones}
            isNew={isNew || !report}
            onSave={(edited) => void save(edited)}
          />
          {!isNew && report && (
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
