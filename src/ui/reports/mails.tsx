import Link from "next/link";
import type { ReportsView, SunkMail } from "@/services/report";
import { dayTimePlace } from "../kit/when";
import { MailView } from "./mail-view";
import { RetryMail } from "./retry-mail";
import { ReportTabs } from "./tabs";

export type MailsProps = { view: ReportsView; sunk: readonly SunkMail[] | null; zone: string };

/** What was mailed, with what became of it; and, in a demo, what the shipped sink took. */
export function Mails({ view, sunk, zone }: MailsProps) {
  const failed = view.mails.filter(
    ({ status, attempts }) => status === "failed" || (status === "waiting" && attempts > 0),
  ).length;
  return (
    <div className="px-4 py-3">
      <ReportTabs />
      <h1 className="mb-2 font-medium text-[20px] leading-7">
        {view.mails.length === 0
          ? "No mail has gone out yet. Put an address on the daily report, and it is asked whether it wants it."
          : failed > 0
            ? `${failed} of the last ${view.mails.length} mails did not go through at once.`
            : view.mails.length === 1
              ? "One mail has gone out."
              : `The last ${view.mails.length} mails.`}
      </h1>
      {view.mails.length > 0 && (
        <table className="mb-5 w-full">
          <thead className="text-left text-[13px]">
            <tr className="h-[26px] border-lines border-b">
              <th className="pr-3 font-semibold">Written</th>
              <th className="pr-3 font-semibold">To</th>
              <th className="pr-3 font-semibold">Subject</th>
              <th className="font-semibold">What became of it</th>
            </tr>
          </thead>
          <tbody>
            {view.mails.map((mail) => (
              <tr key={mail.id} className="h-[30px] border-lines border-b">
                <td className="whitespace-nowrap pr-3">{dayTimePlace(mail.at, zone, view.now)}</td>
                <td className="pr-3">{mail.address}</td>
                <td className="max-w-[430px] truncate pr-3">
                  <Link href={`/reports/mails/${mail.id}`}>{mail.subject}</Link>
                </td>
                <td>
                  {mail.status === "sent" && "sent"}
                  {mail.status === "waiting" &&
                    (mail.attempts === 0 ? "waiting" : `tried ${mail.attempts} times, tried again later: ${mail.lastError}`)}
                  {mail.status === "failed" && (
                    <span className="text-loss">
                      given up after {mail.attempts} attempts: {mail.lastError} <RetryMail id={mail.id} />
                    </span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {sunk !== null && (
        <section aria-label="The demo's mail sink">
          <h2 className="mb-1 font-semibold text-[15px]">What the demo's mail sink took</h2>
          {sunk.length === 0 && <p className="text-soft">Nothing yet. Mail of the demo goes nowhere else.</p>}
          {sunk.map(({ name, to, subject, html, text }, i) => (
            <details key={name} open={i === 0} className="mb-1.5">
              <summary className="cursor-pointer">
                {to}: {subject}
              </summary>
              <MailView subject={subject} to={to} html={html} text={text} />
            </details>
          ))}
        </section>
      )}
    </div>
  );
}
