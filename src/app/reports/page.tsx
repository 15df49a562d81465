import { regionZones } from "@/services/inventory";
import { reportsView } from "@/services/report";
import { LivePage } from "@/ui/kit/live-page";
import { Daily } from "@/ui/reports/daily";
import { actor, services } from "../services";

export const metadata = { title: "Reports · Umbrik" };

export default async function Page() {
  const [view, zones] = await Promise.all([reportsView(services(), actor()), regionZones(services(), actor())]);
  return (
    <>
      <LivePage on={["mail"]} />
      <Daily view={view} zones={zones} />
    </>
  );
}
