import { findResources } from "@/services/inventory";
import { Resources } from "@/ui/find/resources";
import { LivePage } from "@/ui/kit/live-page";
import { findQueryOf } from "../find-query";
import { actor, services } from "../services";
import { shownZones } from "../zone";

export const metadata = { title: "All resources · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };
const PAGE = 100;

export default async function Page({ searchParams }: Props) {
  const params = await searchParams;
  const query = findQueryOf(params, PAGE);
  const columns = [params.tag].flat().flatMap((key) => (key ? [key.slice(0, 200)] : []));
  const [found, { shown }] = await Promise.all([findResources(services(), actor(), query), shownZones()]);
  return (
    <>
      <LivePage on={["round", "fleets", "holds"]} />
      <Resources
        key={`${query.text} ${columns.join(" ")}`}
        found={found}
        text={query.text}
        from={query.offset}
        page={PAGE}
        columns={columns}
        zone={shown[0] ?? "UTC"}
      />
    </>
  );
}
