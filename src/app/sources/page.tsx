import { setupView } from "@/services/inventory";
import { metricSources } from "@/services/metrics";
import { readClock } from "@/services/rounds";
import { LivePage } from "@/ui/kit/live-page";
import { Sources } from "@/ui/sources/sources";
import { actor, services } from "../services";
import { shownZones } from "../zone";

export const metadata = { title: "Sources of metrics · Umbrik" };

export default async function Page() {
  const [sources, { accounts }, { now }, { shown }] = await Promise.all([
    metricSources(services(), actor()),
    setupView(services(), actor()),
    readClock(services(), actor()),
    shownZones(),
  ]);
  return (
    <>
      <LivePage on={["sources"]} />
      <Sources
        sources={sources}
        accounts={accounts.map(({ name }) => name)}
        url={services().url}
        now={now}
        zone={shown[0] ?? "UTC"}
      />
    </>
  );
}
