import { NewFleet } from "@/ui/fleets/new-fleet";

export const metadata = { title: "New fleet · Umbrik" };

export default function Page() {
  return <NewFleet />;
}
