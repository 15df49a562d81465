import Link from "next/link";
import type { Capabilities } from "@/core/plan";
import type { OwnersMail as Owners } from "@/services/idle";
import type { AccountView } from "@/services/inventory";
import type { WebhookView } from "@/services/notify";
import type { CalendarSummary } from "@/services/plans";
import { ButtonLink } from "../kit/button-link";
import { dayTimePlace, placeOf } from "../kit/when";
import { Calendars } from "./calendars";
import { OwnersMail } from "./owners-mail";
import { PlanFileBox } from "./plan-file";
import { StopLimit } from "./stop-limit";
import { Webhooks } from "./webhooks";

/** The accounts that are read, and the rules each provider goes by. */
export type SetupProps = {
  accounts: readonly AccountView[];
  providers: readonly Capabilities[];
  calendars: readonly CalendarSummary[];
  hooks: readonly WebhookView[];
  stopLimit: number | null;
  owners: Owners;
  now: number;
  zone: string;
};

export function Setup({ accounts, providers, calendars, hooks, stopLimit, owners, now, zone }: SetupProps) {
  return (
    <div className="flex flex-col gap-5 px-4 py-3">
      <section>
        <h1 className="mb-2 font-medium text-[20px] leading-7">
          {accounts.length} accounts at {providers.length} providers are read every minute.
        </h1>
        <table className="w-full max-w-[860px]">
          <thead className="text-left text-[13px]">
            <tr className="h-[30px] border-lines border-b">
              <th className="pr-3 font-semibold">Account</th>
              <th className="pr-3 font-semibold">Provider</th>
              <th className="pr-3 font-semibold">Last read in full</th>
              <th className="font-semibold">State</th>
            </tr>
          </thead>
          <tbody>
            {accounts.map(({ name, provider, readAt, error, setAside, partErrors }) => (
              <tr key={name} className="h-[30px] border-lines border-b">
                <td className="pr-3 font-semibold">{name}</td>
                <td className="pr-3">{provider}</td>
                <td className="pr-3">{readAt === null ? "never" : dayTimePlace(readAt, zone, now)}</td>
                <td className={error ? "text-loss" : ""}>
                  {error ? `✕ ${error}` : setAside.length > 0 ? `△ read, ${setAside.length} set aside` : "✓ read"}
                  {Object.entries(partErrors).map(([part, why]) => (
                    <span key={part} className="block text-loss">
                      ✕ {part}: {why}
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <h2 className="mb-1 font-semibold text-[15px]">Metrics</h2>
        <p>
          <Link href="/sources">Sources of metrics</Link>: pushed by OTLP or asked of a Prometheus, besides what providers tell.
        </p>
      </section>
      <section aria-label="Limit on stops">
        <h2 className="mb-1 font-semibold text-[15px]">Stops</h2>
        <StopLimit limit={stopLimit} />
      </section>
      <section aria-label="Owners">
        <h2 className="mb-1 font-semibold text-[15px]">Owners</h2>
        <OwnersMail owners={owners} />
      </section>
      <section aria-label="Webhooks">
        <h2 className="mb-1 font-semibold text-[15px]">Webhooks</h2>
        <Webhooks hooks={hooks} zone={zone} now={now} />
      </section>
      <section>
        <div className="mb-1 flex max-w-[860px] items-center justify-between">
          <h2 className="font-semibold text-[15px]">Calendars</h2>
          <ButtonLink href="/calendars/new">New calendar</ButtonLink>
        </div>
        <Calendars calendars={calendars} />
      </section>
      <section>
        <h2 className="mb-1 font-semibold text-[15px]">Money</h2>
        <p>
          <Link href="/prices">Price book and commitments</Link>: what providers ask, what was set by hand, what is paid for
          anyway.
        </p>
      </section>
      <section>
        <h2 className="mb-1 font-semibold text-[15px]">Plan file</h2>
        <PlanFileBox />
      </section>
      <section>
        <h2 className="mb-1 font-semibold text-[15px]">What each provider says of itself</h2>
        <div className="grid max-w-[1100px] gap-6 md:grid-cols-2">
          {providers.map((provider) => (
            <Rules key={provider.provider} provider={provider} />
          ))}
        </div>
      </section>
    </div>
  );
}

function Rules({ provider }: { provider: Capabilities }) {
  const { billing, hibernate, spot, usualS, regions } = provider;
  const rules: readonly [string, string][] = [
    ["Machines are billed", granule(billing.machine)],
    ["Services are billed", granule(billing.service)],
    ["Shut down from inside", provider.billedWhenHalted ? "still billed until stopped" : "not billed"],
    ["Hibernation", hibernate ? `${hibernate.os.join(" and ")}, up to ${hibernate.memoryGibMax} GiB of memory` : "none"],
    ["Notice before eviction", `${spot.noticeS} s; not for ${spot.ineligibleSizes.join(", ")}`],
    ["Usually takes", `start ${usualS.start} s, resume ${usualS.resume} s, stop ${usualS.stop} s`],
    ["Regions", regions.map(({ name, peopleZone }) => `${name} (${placeOf(peopleZone)})`).join(", ")],
  ];
  return (
    <div>
      <h3 className="font-semibold">{provider.provider}</h3>
      <dl className="grid grid-cols-[minmax(110px,170px)_minmax(0,1fr)]">
        {rules.map(([term, rule]) => (
          <div key={term} className="contents">
            <dt className="border-lines border-b py-1 text-soft">{term}</dt>
            <dd className="border-lines border-b py-1">{rule}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

function granule({ granularityS, minimumS }: { granularityS: number; minimumS: number }): string {
  const unit =
    granularityS === 1
      ? "by the second"
      : granularityS === 60
        ? "by the started minute"
        : granularityS === 3600
          ? "by the started hour"
          : `by started ${granularityS} s`;
  return minimumS > granularityS ? `${unit}, at least ${minimumS} s` : unit;
}
