"use client";
import { useState } from "react";
import type { LeaveOnView } from "@/services/idle";
import { AnswerError, ask } from "../kit/ask";
import { Button } from "../kit/button";
import { Notice } from "../kit/notice";
import { dayTimePlace } from "../kit/when";

export type LeaveOnProps = { view: LeaveOnView; token: string };

/** Where the link of a warning leads: made for a phone. Opening it changes nothing; the press does, once. */
export function LeaveOn({ view: first, token }: LeaveOnProps) {
  const [view, setView] = useState(first);
  const [problem, setProblem] = useState("");
  const [isBusy, setBusy] = useState(false);
  async function press() {
    setBusy(true);
    setProblem("");
    try {
      setView(await ask<LeaveOnView>(`/api/leave-on?token=${encodeURIComponent(token)}`, { method: "POST", body: {} }));
    } catch (error) {
      setProblem(error instanceof AnswerError ? error.message : String(error));
    }
    setBusy(false);
  }
  return (
    <div className="mx-auto flex max-w-[560px] flex-col gap-4 px-4 py-10">
      {!view.ok ? (
        <>
          <h1 className="font-medium text-[20px] leading-7">Nothing was changed</h1>
          <Notice kind="error">{view.reason}</Notice>
        </>
      ) : view.isDone ? (
        <>
          <h1 className="font-medium text-[20px] leading-7">{view.name} is left on</h1>
          <Notice kind="fine">
            {view.isOn ? "It stays on" : "It is being started and stays on"} until {dayTimePlace(view.until, view.zone, view.now)}
            . After that its fleet {view.fleet} looks after it again.
          </Notice>
        </>
      ) : (
        <>
          <h1 className="font-medium text-[20px] leading-7">
            {view.isOn ? "Leave" : "Start"} {view.name} {view.isOn ? "on" : ""} for {view.hours} hours?
          </h1>
          <p>
            It is {view.isOn ? "on" : "off"} and counts as idle: {view.why} (fleet {view.fleet}).
          </p>
          <p className="text-soft">
            A press keeps it on until {dayTimePlace(view.until, view.zone, view.now)}. Opening this page changed nothing.
          </p>
          <Button look="strong" className="h-[44px] justify-center text-[16px]" disabled={isBusy} onClick={() => void press()}>
            {view.isOn ? `Leave it on for ${view.hours} hours` : `Start it for ${view.hours} hours`}
          </Button>
        </>
      )}
      {problem && <Notice kind="error">{problem}</Notice>}
    </div>
  );
}
