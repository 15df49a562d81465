import { fleetsMoney } from "@/services/cost";
import { fleetSummaries } from "@/services/plans";
import { FleetList } from "@/ui/fleets/fleet-list";
import { LivePage } from "@/ui/kit/live-page";
import { instantOf, viewOf } from "../burn-query";
import { actor, services } from "../services";

export const metadata = { title: "Fleets · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const params = await searchParams;
  const at = instantOf(params);
  const [fleets, money] = await Promise.all([
    fleetSummaries(services(), actor(), at),
    fleetsMoney(services(), actor(), { at, view: viewOf(params) }),
  ]);
  return (
    <>
      <LivePage on={["fleets", "round"]} />
      <FleetList fleets={fleets} money={money} />
    </>
  );
}
