import { z } from "zod";
import { person, services } from "@/app/services";
import { addDiscount } from "@/services";
import { answer, readBody } from "../answer";

const text = z.string().max(200).trim();
const bodySchema = z.strictObject({
  provider: text,
  item: text,
  size: text,
  purchase: text,
  percent: text,
  from: text,
  to: text,
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await addDiscount(services(), person(), await readBody(request, bodySchema));
    return {};
  });
}
