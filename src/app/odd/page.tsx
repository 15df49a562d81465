import { findingsPage } from "@/services/cost";
import { LivePage } from "@/ui/kit/live-page";
import { Odd } from "@/ui/strays/odd";
import { instantOf } from "../burn-query";
import { actor, services } from "../services";

export const metadata = { title: "What is odd · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const at = instantOf(await searchParams);
  return (
    <>
      <LivePage on={["round", "fleets", "spend"]} />
      <Odd page={await findingsPage(services(), actor(), at)} />
    </>
  );
}
