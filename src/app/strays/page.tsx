import { strayPage } from "@/services";
import { LivePage } from "@/ui/kit/live-page";
import { Strays } from "@/ui/strays/strays";
import { instantOf } from "../burn-query";
import { person, services } from "../services";
import { shownZones } from "../zone";

export const metadata = { title: "Strays · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const at = instantOf(await searchParams);
  const [page, { shown }] = await Promise.all([strayPage(services(), person(), at), shownZones()]);
  return (
    <>
      <LivePage on={["round", "fleets", "clock", "holds", "spend"]} />
      <Strays page={page} zone={shown[0] ?? "UTC"} />
    </>
  );
}
