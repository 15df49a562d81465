import { comingEdges, holdList, journalPage } from "@/services";
import { LivePage } from "@/ui/kit/live-page";
import { Rounds } from "@/ui/rounds/rounds";
import { person, services } from "../services";

export const metadata = { title: "Rounds · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const { before } = await searchParams;
  const from = typeof before === "string" && /^\d{1,9}$/.test(before) ? Number(before) : null;
  const [journal, edges, holds] = await Promise.all([
    journalPage(services(), person(), from),
    comingEdges(services(), person()),
    holdList(services(), person()),
  ]);
  return (
    <>
      <LivePage on={["round", "fleets", "clock", "holds"]} />
      <Rounds journal={journal} edges={edges} holds={holds} />
    </>
  );
}
