import { fleetSummaries } from "@/services";
import { FleetList } from "@/ui/fleets/fleet-list";
import { LivePage } from "@/ui/kit/live-page";
import { person, services } from "../services";

export const metadata = { title: "Fleets · Umbrik" };

export default async function Page() {
  return (
    <>
      <LivePage on={["fleets", "round"]} />
      <FleetList fleets={await fleetSummaries(services(), person())} />
    </>
  );
}
