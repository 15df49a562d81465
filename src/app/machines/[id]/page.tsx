import { notFound, redirect } from "next/navigation";
import { cache } from "react";
import { tryParseInstant } from "@/core/time";
import { RefusedError } from "@/services/admin";
import { openMachine } from "@/services/inventory";
import { LivePage } from "@/ui/kit/live-page";
import { Machine } from "@/ui/machine/machine";
import { actor, services } from "../../services";
import { shownZones } from "../../zone";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ at?: string }> };

/** Read once for the page and its title. */
const opened = cache((id: string, at: string | undefined) =>
  openMachine(services(), actor(), { id, at: at === undefined ? null : tryParseInstant(at) }),
);

export async function generateMetadata({ params, searchParams }: Props) {
  const machine = await opened(decodeURIComponent((await params).id), (await searchParams).at).catch(() => null);
  return { title: `${machine?.resource.name ?? "Machine"} · Umbrik` };
}

export default async function Page({ params, searchParams }: Props) {
  const id = decodeURIComponent((await params).id);
  const { at } = await searchParams;
  try {
    const [machine, { shown }] = await Promise.all([opened(id, at), shownZones()]);
    const known = machine.resource.id;
    if (known !== id)
      redirect(`/machines/${encodeURIComponent(known)}${at === undefined ? "" : `?at=${encodeURIComponent(at)}`}`);
    return (
      <>
        <LivePage on={["round", "holds", "fleets", "clock"]} />
        <Machine {...machine} zone={shown[0] ?? machine.zone} ownZone={machine.zone} isAsOf={machine.at !== machine.now} />
      </>
    );
  } catch (error) {
    if (error instanceof RefusedError && error.code === "not_found") notFound();
    throw error;
  }
}
