"use client";
import { useWeeks } from "./use-weeks";
import { WeekStrip } from "./week-strip";

/** One machine's last seven days, wide. */
export function MachineWeek({ id, at }: { id: string; at: number | null }) {
  const weekOf = useWeeks([id], at);
  return (
    <div className="mb-3 max-w-[720px]">
      <div className="h-[14px]">
        <WeekStrip week={weekOf(id)} />
      </div>
      <p className="flex justify-between text-[12px] text-soft">
        <span>seven days before</span>
        <span>{at === null ? "now" : "then"}</span>
      </p>
    </div>
  );
}
