import { strayPage } from "@/services/cost";
import { metricSources } from "@/services/metrics";
import { LivePage } from "@/ui/kit/live-page";
import { Strays } from "@/ui/strays/strays";
import { instantOf } from "../burn-query";
import { actor, services } from "../services";
import { shownZones } from "../zone";

export const metadata = { title: "Strays · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const at = instantOf(await searchParams);
  const [page, sources, { shown }] = await Promise.all([
    strayPage(services(), actor(), at),
    // The past's hosts are not kept: it is told of today's alone.
    at === null ? metricSources(services(), actor()) : [],
    shownZones(),
  ]);
  return (
    <>
      <LivePage on={["round", "fleets", "clock", "holds", "spend", "sources"]} />
      <Strays page={page} sources={sources} zone={shown[0] ?? "UTC"} />
    </>
  );
}
