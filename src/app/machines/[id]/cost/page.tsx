import { notFound } from "next/navigation";
import { RefusedError } from "@/services/admin";
import { machineCost } from "@/services/cost";
import { LivePage } from "@/ui/kit/live-page";
import { MachineCostPage } from "@/ui/machine/cost";
import { moneyViewOf } from "@/ui/money/view";
import { actor, services } from "../../../services";
import { shownZones } from "../../../zone";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ from?: string; to?: string; money?: string }> };

export async function generateMetadata({ params }: Props) {
  return { title: `Cost of ${decodeURIComponent((await params).id)} · Umbrik` };
}

export default async function Page({ params, searchParams }: Props) {
  const id = decodeURIComponent((await params).id);
  const { from = null, to = null, money } = await searchParams;
  const { shown } = await shownZones();
  try {
    const cost = await machineCost(services(), actor(), { id, from, to, view: moneyViewOf(money) });
    return (
      <>
        <LivePage on={["spend", "round"]} />
        <MachineCostPage cost={cost} zone={shown[0] ?? "UTC"} />
      </>
    );
  } catch (error) {
    if (error instanceof RefusedError && error.code === "not_found") notFound();
    throw error;
  }
}
