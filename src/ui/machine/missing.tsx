import type { MissingStart } from "@/services/inventory";
import { Notice } from "../kit/notice";
import { dayTimePlace } from "../kit/when";

export type MissingNoticeProps = { missing: MissingStart; zone: string; now: number; name?: string };

/** What should be on by now and is not, with what its provider says and when it is tried again. */
export function MissingNotice({ missing, zone, now, name = "It" }: MissingNoticeProps) {
  const { lastAnswer, attempts, tryAgainAt } = missing;
  const tries = attempts > 1 ? `${attempts} tries so far` : "one try so far";
  const next = tryAgainAt > now ? `the next at ${dayTimePlace(tryAgainAt, zone, now)}` : "the next with the coming round";
  return (
    <div className="mb-3">
      <Notice kind="error">
        <b>{name} should be on and is not.</b> Its provider says: {lastAnswer || "nothing yet"}; {tries}, {next}.
      </Notice>
    </div>
  );
}
