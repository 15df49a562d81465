import { notFound } from "next/navigation";
import { tryParseInstant } from "@/core/time";
import { openMachine, RefusedError } from "@/services";
import { LivePage } from "@/ui/kit/live-page";
import { Machine } from "@/ui/machine/machine";
import { person, services } from "../../services";

export const metadata = { title: "Machine · Umbrik" };

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ at?: string }> };

export default async function Page({ params, searchParams }: Props) {
  const id = decodeURIComponent((await params).id);
  const { at } = await searchParams;
  try {
    const machine = await openMachine(services(), person(), { id, at: at === undefined ? null : tryParseInstant(at) });
    return (
      <>
        <LivePage on={["round", "holds", "fleets", "clock"]} />
        <Machine {...machine} isAsOf={machine.at !== machine.now} />
      </>
    );
  } catch (error) {
    if (error instanceof RefusedError && error.code === "not_found") notFound();
    throw error;
  }
}
