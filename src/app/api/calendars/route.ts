import { person, services } from "@/app/services";
import { saveCalendar } from "@/services";
import { answer, readBody } from "../answer";
import { calendarToSaveSchema } from "./body";

export function POST(request: Request): Promise<Response> {
  return answer(async () => ({
    version: await saveCalendar(services(), person(), await readBody(request, calendarToSaveSchema)),
  }));
}
