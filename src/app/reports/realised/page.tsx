import { realisedView } from "@/services/cost";
import { LivePage } from "@/ui/kit/live-page";
import { moneyViewOf } from "@/ui/money/view";
import { Realised } from "@/ui/reports/realised";
import { actor, services } from "../../services";

export const metadata = { title: "Realised savings · Umbrik" };

type Props = { searchParams: Promise<{ fleet?: string; money?: string }> };

export default async function Page({ searchParams }: Props) {
  const { fleet, money } = await searchParams;
  return (
    <>
      <LivePage on={["spend"]} />
      <Realised
        view={
          await realisedView(services(), actor(), {
            fleet: typeof fleet === "string" ? fleet : null,
            view: moneyViewOf(money),
          })
        }
      />
    </>
  );
}
