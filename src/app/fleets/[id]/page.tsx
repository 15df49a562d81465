import { notFound } from "next/navigation";
import { openWorkbench, RefusedError } from "@/services";
import { Workbench } from "@/ui/workbench/workbench";
import { person, services } from "../../services";

export const metadata = { title: "Fleet · Umbrik" };

type Props = { params: Promise<{ id: string }> };

export default async function Page({ params }: Props) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  try {
    return <Workbench key={id} {...(await openWorkbench(services(), person(), Number(id)))} />;
  } catch (error) {
    if (error instanceof RefusedError && error.code === "not_found") notFound();
    throw error;
  }
}
