import { notFound } from "next/navigation";
import { RefusedError } from "@/services/admin";
import { openImport } from "@/services/usage";
import { LivePage } from "@/ui/kit/live-page";
import { OneImport } from "@/ui/usage/one-import";
import { actor, services } from "../../services";

export const metadata = { title: "Import · Umbrik" };

type Props = { params: Promise<{ id: string }> };

export default async function Page({ params }: Props) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  try {
    return (
      <>
        <LivePage on={["usage"]} />
        <OneImport {...(await openImport(services(), actor(), Number(id)))} />
      </>
    );
  } catch (error) {
    if (error instanceof RefusedError) notFound();
    throw error;
  }
}
