import { calendarSummaries, setupView } from "@/services";
import { Setup } from "@/ui/setup/setup";
import { person, services } from "../services";

export const metadata = { title: "Setup · Umbrik" };

export default async function Page() {
  const [view, calendars] = await Promise.all([setupView(services(), person()), calendarSummaries(services(), person())]);
  return <Setup {...view} calendars={calendars} />;
}
