import { notFound } from "next/navigation";
import { RefusedError } from "@/services/admin";
import { machineLife } from "@/services/inventory";
import { LivePage } from "@/ui/kit/live-page";
import { Life } from "@/ui/machine/life";
import { instantOf } from "../../../burn-query";
import { actor, services } from "../../../services";
import { shownZones } from "../../../zone";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<Record<string, string | string[] | undefined>> };

export async function generateMetadata({ params }: Props) {
  return { title: `Life of ${decodeURIComponent((await params).id)} · Umbrik` };
}

export default async function Page({ params, searchParams }: Props) {
  const id = decodeURIComponent((await params).id);
  const asked = await searchParams;
  const text = ([asked.search].flat()[0] ?? "").slice(0, 200);
  const [before] = [asked.before].flat();
  try {
    const isPage = before !== undefined && /^\d{1,10}$/.test(before);
    const life = await machineLife(services(), actor(), { id, text, before: isPage ? Number(before) : instantOf(asked) });
    const { shown } = await shownZones();
    return (
      <>
        <LivePage on={["round"]} />
        <Life life={{ ...life, zone: shown[0] ?? life.zone }} text={text} />
      </>
    );
  } catch (error) {
    if (error instanceof RefusedError && error.code === "not_found") notFound();
    throw error;
  }
}
