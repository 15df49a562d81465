import { z } from "zod";
import { person, services } from "@/app/services";
import { removeSchedule, scheduleIcs } from "@/services";
import { answer, asText, decoded, readBody } from "../../answer";

type Context = { params: Promise<{ name: string }> };

/** `NAME.ics`: the schedule as a calendar that programs subscribe to, with `?zone=Z` where it has no zone of its own. */
export function GET(request: Request, { params }: Context): Promise<Response> {
  return asText("text/calendar; charset=utf-8", async () => {
    const zone = new URL(request.url).searchParams.get("zone");
    const file = decoded((await params).name);
    return { file, text: await scheduleIcs(services(), person(), { name: file.replace(/\.ics$/, ""), zone }) };
  });
}

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return answer(async () => {
    await readBody(request, z.strictObject({}));
    await removeSchedule(services(), person(), decoded((await params).name));
    return { removed: true };
  });
}
