import { comingEdges, holdList, journalPage } from "@/services";
import { LivePage } from "@/ui/kit/live-page";
import { Rounds } from "@/ui/rounds/rounds";
import { instantOf } from "../burn-query";
import { person, services } from "../services";

export const metadata = { title: "Rounds · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const params = await searchParams;
  const { before } = params;
  const at = instantOf(params);
  const from = typeof before === "string" && /^\d{1,9}$/.test(before) ? Number(before) : null;
  const [journal, edges, holds] = await Promise.all([
    journalPage(services(), person(), { before: from, at }),
    comingEdges(services(), person(), { at }),
    holdList(services(), person()),
  ]);
  return (
    <>
      <LivePage on={["round", "fleets", "clock", "holds"]} />
      <Rounds journal={journal} edges={edges} holds={holds} />
    </>
  );
}
