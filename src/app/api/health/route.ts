import { person, services } from "@/app/services";
import { isAnswering, readClock } from "@/services";
import { answer } from "../answer";

export const dynamic = "force-dynamic";

export function GET(): Promise<Response> {
  return answer(async () => {
    await isAnswering(services(), person());
    return { ok: true, ...(await readClock(services(), person())) };
  });
}
