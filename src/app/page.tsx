import { burnPage, regionPlaces } from "@/services";
import { BURN_LINES } from "@/ui/burn/address";
import { Burn } from "@/ui/burn/burn";
import { asOne } from "./as-one";
import { burnQueryOf } from "./burn-query";
import { person, services } from "./services";

export const metadata = { title: "Burn · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const query = burnQueryOf(await searchParams);
  const asked = { ...query, offset: 0, limit: BURN_LINES };
  const [page, places] = await asOne(`burn page ${person().name} ${JSON.stringify(asked)}`, () =>
    Promise.all([burnPage(services(), person(), asked), regionPlaces(services(), person())]),
  );
  return <Burn query={query} first={page} zones={places} />;
}
