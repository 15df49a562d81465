import { person, services } from "@/app/services";
import { holidaysOfCountry } from "@/services";
import { answer } from "../../answer";

type Context = { params: Promise<{ code: string }> };

/** A country's public holidays of this year and the next. */
export function GET(_request: Request, { params }: Context): Promise<Response> {
  return answer(async () => holidaysOfCountry(services(), person(), (await params).code));
}
