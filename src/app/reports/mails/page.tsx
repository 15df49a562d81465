import { regionZones, reportsView, sunkMails } from "@/services";
import { LivePage } from "@/ui/kit/live-page";
import { Mails } from "@/ui/reports/mails";
import { person, services } from "../../services";

export const metadata = { title: "Mails · Umbrik" };

export default async function Page() {
  const [view, sunk, zones] = await Promise.all([
    reportsView(services(), person()),
    sunkMails(services(), person()),
    regionZones(services(), person()),
  ]);
  return (
    <>
      <LivePage on={["mail"]} />
      <Mails view={view} sunk={sunk} zone={zones[0] ?? "UTC"} />
    </>
  );
}
