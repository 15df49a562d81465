import { realisedView } from "@/services";
import { LivePage } from "@/ui/kit/live-page";
import { Realised } from "@/ui/reports/realised";
import { person, services } from "../../services";

export const metadata = { title: "Realised savings · Umbrik" };

type Props = { searchParams: Promise<{ fleet?: string }> };

export default async function Page({ searchParams }: Props) {
  const { fleet } = await searchParams;
  return (
    <>
      <LivePage on={["spend"]} />
      <Realised view={await realisedView(services(), person(), { fleet: typeof fleet === "string" ? fleet : null })} />
    </>
  );
}
