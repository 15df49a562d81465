import { z } from "zod";
import { person, services } from "@/app/services";
import { previewCalendar } from "@/services";
import { answer, readBody } from "../../answer";
import { calendarBody } from "../body";

export function POST(request: Request): Promise<Response> {
  return answer(async () =>
    previewCalendar(services(), person(), (await readBody(request, z.strictObject(calendarBody))).calendar),
  );
}
