import { ownersMailOf } from "@/services/idle";
import { setupView } from "@/services/inventory";
import { webhooks } from "@/services/notify";
import { calendarSummaries } from "@/services/plans";
import { readClock, stopLimitOf } from "@/services/rounds";
import { LivePage } from "@/ui/kit/live-page";
import { Setup } from "@/ui/setup/setup";
import { actor, services } from "../services";
import { shownZones } from "../zone";

export const metadata = { title: "Setup · Umbrik" };

export default async function Page() {
  const [view, calendars, hooks, stopLimit, owners, { now }, { shown }] = await Promise.all([
    setupView(services(), actor()),
    calendarSummaries(services(), actor()),
    webhooks(services(), actor()),
    stopLimitOf(services(), actor()),
    ownersMailOf(services(), actor()),
    readClock(services(), actor()),
    shownZones(),
  ]);
  return (
    <>
      <LivePage on={["round", "webhook"]} />
      <Setup
        {...view}
        calendars={calendars}
        hooks={hooks}
        stopLimit={stopLimit}
        owners={owners}
        now={now}
        zone={shown[0] ?? "UTC"}
      />
    </>
  );
}
