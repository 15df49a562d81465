import { notFound } from "next/navigation";
import { cache } from "react";
import { RefusedError } from "@/services/admin";
import { openWorkbench } from "@/services/plans";
import { Workbench } from "@/ui/workbench/workbench";
import { actor, services } from "../../services";
import { shownZones } from "../../zone";

type Props = { params: Promise<{ id: string }> };

/** Read once for the page and its title. */
const opened = cache((id: string) => openWorkbench(services(), actor(), Number(id)));

export async function generateMetadata({ params }: Props) {
  const { id } = await params;
  const open = /^\d{1,9}$/.test(id) ? await opened(id).catch(() => null) : null;
  return { title: `${open?.fleet.name ?? "Fleet"} · Umbrik` };
}

export default async function Page({ params }: Props) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  try {
    const [open, { shown }] = await Promise.all([opened(id), shownZones()]);
    return <Workbench key={id} {...open} zone={shown[0] ?? "UTC"} />;
  } catch (error) {
    if (error instanceof RefusedError && error.code === "not_found") notFound();
    throw error;
  }
}
