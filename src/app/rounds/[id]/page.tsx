import { notFound } from "next/navigation";
import { openRound, RefusedError } from "@/services";
import { OneRound } from "@/ui/rounds/one-round";
import { person, services } from "../../services";

export const metadata = { title: "Round · Umbrik" };

type Props = { params: Promise<{ id: string }>; searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ params, searchParams }: Props) {
  const { id } = await params;
  const { from } = await searchParams;
  const offset = typeof from === "string" && /^\d{1,7}$/.test(from) ? Number(from) : 0;
  if (!/^\d{1,9}$/.test(id)) notFound();
  try {
    return <OneRound key={id} {...(await openRound(services(), person(), { id: Number(id), offset }))} offset={offset} />;
  } catch (error) {
    if (error instanceof RefusedError) notFound();
    throw error;
  }
}
