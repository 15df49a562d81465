import { scheduleSummaries } from "@/services/plans";
import { LivePage } from "@/ui/kit/live-page";
import { Schedules } from "@/ui/schedules/schedules";
import { actor, services } from "../services";

export const metadata = { title: "Schedules · Umbrik" };

export default async function Page() {
  return (
    <>
      <LivePage on={["fleets"]} />
      <Schedules {...(await scheduleSummaries(services(), actor()))} />
    </>
  );
}
