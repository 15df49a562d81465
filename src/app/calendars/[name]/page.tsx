import { notFound } from "next/navigation";
import { RefusedError } from "@/services/admin";
import { openCalendar } from "@/services/plans";
import { CalendarEditor } from "@/ui/calendar/calendar-editor";
import { actor, services } from "../../services";

type Props = { params: Promise<{ name: string }> };

export async function generateMetadata({ params }: Props) {
  return { title: `${decodeURIComponent((await params).name)} · Umbrik` };
}

export default async function Page({ params }: Props) {
  const name = decodeURIComponent((await params).name);
  try {
    const opened = await openCalendar(services(), actor(), name);
    return <CalendarEditor key={`${name} ${opened.stored?.version}`} {...opened} />;
  } catch (error) {
    if (error instanceof RefusedError && error.code === "not_found") notFound();
    throw error;
  }
}
