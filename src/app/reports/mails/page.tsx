import { reportsView, sunkMails } from "@/services/report";
import { LivePage } from "@/ui/kit/live-page";
import { Mails } from "@/ui/reports/mails";
import { actor, services } from "../../services";
import { shownZones } from "../../zone";

export const metadata = { title: "Mails · Umbrik" };

export default async function Page() {
  const [view, sunk, { shown }] = await Promise.all([
    reportsView(services(), actor()),
    sunkMails(services(), actor()),
    shownZones(),
  ]);
  return (
    <>
      <LivePage on={["mail"]} />
      <Mails view={view} sunk={sunk} zone={shown[0] ?? "UTC"} />
    </>
  );
}
