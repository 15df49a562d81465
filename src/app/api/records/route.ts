import { person, services } from "@/app/services";
import { recordsFrom } from "@/services";
import { answer } from "../answer";

export const dynamic = "force-dynamic";

/** When records begin. */
export function GET(): Promise<Response> {
  return answer(async () => ({ from: await recordsFrom(services(), person()) }));
}
