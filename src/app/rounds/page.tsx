import { comingEdges, journalPage } from "@/services";
import { LivePage } from "@/ui/kit/live-page";
import { Rounds } from "@/ui/rounds/rounds";
import { person, services } from "../services";

export const metadata = { title: "Rounds · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const { before } = await searchParams;
  const from = typeof before === "string" && /^\d{1,9}$/.test(before) ? Number(before) : null;
  const [journal, edges] = await Promise.all([journalPage(services(), person(), from), comingEdges(services(), person())]);
  return (
    <>
      <LivePage on={["round", "fleets", "clock"]} />
      <Rounds journal={journal} edges={edges} />
    </>
  );
}
