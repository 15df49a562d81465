import { z } from "zod";
import { person, services } from "@/app/services";
import { addCommitment } from "@/services";
import { answer, readBody } from "../answer";

const text = z.string().max(200).trim();
const bodySchema = z.strictObject({
  provider: text,
  account: text,
  region: text,
  size: text,
  units: text,
  fee_per_hour: text,
  from: text,
  to: text,
});

export function POST(request: Request): Promise<Response> {
  return answer(async () => {
    await addCommitment(services(), person(), await readBody(request, bodySchema));
    return {};
  });
}
