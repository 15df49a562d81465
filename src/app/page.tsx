import { burnPage, regionPlaces } from "@/services";
import { Burn } from "@/ui/burn/burn";
import { burnQueryOf } from "./burn-query";
import { person, services } from "./services";

export const metadata = { title: "Burn · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const query = burnQueryOf(await searchParams);
  const [page, places] = await Promise.all([
    burnPage(services(), person(), { ...query, offset: 0, limit: 100 }),
    regionPlaces(services(), person()),
  ]);
  return <Burn query={query} first={page} zones={places} />;
}
