import { z } from "zod";
import { done, estate, route } from "@/app/http";
import { addCommitment } from "@/services/cost";

const text = z.string().max(200).trim();
const body = z.strictObject({
  provider: text,
  account: text,
  region: text,
  size: text,
  units: text,
  fee_per_hour: text,
  from: text,
  to: text,
});

export const POST = route("set prices", estate, { input: { body }, answer: done }, async ({ services, actor, body: asked }) => {
  await addCommitment(services, actor, asked);
  return {};
});
