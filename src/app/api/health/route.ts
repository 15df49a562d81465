import { person, services } from "@/app/services";
import { readClock } from "@/services";
import { answer } from "../answer";

export const dynamic = "force-dynamic";

export function GET(): Promise<Response> {
  return answer(async () => {
    await services().pool.query("select 1");
    return { ok: true, ...(await readClock(services(), person())) };
  });
}
