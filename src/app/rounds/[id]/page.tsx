import { notFound } from "next/navigation";
import { RefusedError } from "@/services/admin";
import { openRound } from "@/services/rounds";
import { FollowPage } from "@/ui/kit/follow-page";
import { OneRound } from "@/ui/rounds/one-round";
import { actor, services } from "../../services";
import { shownZones } from "../../zone";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<Record<string, string | string[] | undefined>> };

const OPEN = new Set(["recorded", "sent"]);

export async function generateMetadata({ params }: Props) {
  return { title: `Round ${(await params).id} · Umbrik` };
}

export default async function Page({ params, searchParams }: Props) {
  const { id } = await params;
  const { from, group: asked } = await searchParams;
  const number = (text: string | string[] | undefined) =>
    typeof text === "string" && /^\d{1,7}$/.test(text) ? Number(text) : null;
  if (!/^\d{1,9}$/.test(id)) notFound();
  const [offset, group] = [number(from) ?? 0, number(asked)];
  try {
    const [round, { shown }] = await Promise.all([
      openRound(services(), actor(), { id: Number(id), offset, group }),
      shownZones(),
    ]);
    // What is sent and not yet seen goes on; a round is followed until all of it has ended.
    const isOpen =
      round.round.status === "running" || round.groups.some(({ ends }) => Object.keys(ends).some((end) => OPEN.has(end)));
    return (
      <>
        <FollowPage isOpen={isOpen} />
        <OneRound key={id} {...round} offset={offset} group={group} zone={shown[0] ?? "UTC"} />
      </>
    );
  } catch (error) {
    if (error instanceof RefusedError) notFound();
    throw error;
  }
}
