import { fleetSummaries } from "@/services";
import { FleetList } from "@/ui/fleets/fleet-list";
import { LivePage } from "@/ui/kit/live-page";
import { instantOf } from "../burn-query";
import { person, services } from "../services";

export const metadata = { title: "Fleets · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const at = instantOf(await searchParams);
  return (
    <>
      <LivePage on={["fleets", "round"]} />
      <FleetList fleets={await fleetSummaries(services(), person(), at)} />
    </>
  );
}
