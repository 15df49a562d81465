import { burnPage } from "@/services/cost";
import { BURN_LINES } from "@/ui/burn/address";
import { Burn } from "@/ui/burn/burn";
import { burnQueryOf } from "./burn-query";
import { coalesce } from "./coalesce";
import { actor, services } from "./services";
import { shownZones } from "./zone";

export const metadata = { title: "Burn · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const query = burnQueryOf(await searchParams);
  const asked = { ...query, offset: 0, limit: BURN_LINES };
  const [page, { shown }] = await Promise.all([
    coalesce(`burn page ${actor().name} ${JSON.stringify(asked)}`, () => burnPage(services(), actor(), asked)),
    shownZones(),
  ]);
  return <Burn query={query} first={page} zone={shown[0] ?? "UTC"} />;
}
