import { utcDate } from "@/core/time";
import { priceBookView } from "@/services/cost";
import { readClock } from "@/services/rounds";
import { LivePage } from "@/ui/kit/live-page";
import { Prices } from "@/ui/prices/prices";
import { instantOf } from "../burn-query";
import { actor, services } from "../services";

export const metadata = { title: "Prices · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const at = instantOf(await searchParams);
  const [{ now }, view] = await Promise.all([readClock(services(), actor()), priceBookView(services(), actor(), at)]);
  return (
    <>
      <LivePage on={["spend"]} />
      <Prices view={view} today={utcDate(now)} />
    </>
  );
}
