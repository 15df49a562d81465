import { setupView } from "@/services";
import { Setup } from "@/ui/setup/setup";
import { person, services } from "../services";

export const metadata = { title: "Setup · Umbrik" };

export default async function Page() {
  return <Setup {...(await setupView(services(), person()))} />;
}
