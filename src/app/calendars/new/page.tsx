import { openCalendar } from "@/services/plans";
import { CalendarEditor } from "@/ui/calendar/calendar-editor";
import { actor, services } from "../../services";

export const metadata = { title: "New calendar · Umbrik" };

export default async function Page() {
  return <CalendarEditor {...(await openCalendar(services(), actor(), null))} />;
}
