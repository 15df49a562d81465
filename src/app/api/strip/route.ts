import { person, services } from "@/app/services";
import { timeStrip } from "@/services";
import { answer } from "../answer";

export const dynamic = "force-dynamic";

export function GET(): Promise<Response> {
  return answer(() => timeStrip(services(), person()));
}
