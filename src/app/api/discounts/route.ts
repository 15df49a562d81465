import { z } from "zod";
import { done, estate, route } from "@/app/http";
import { addDiscount } from "@/services/cost";

const text = z.string().max(200).trim();
const body = z.strictObject({
  provider: text,
  item: text,
  size: text,
  purchase: text,
  percent: text,
  from: text,
  to: text,
});

export const POST = route("set prices", estate, { input: { body }, answer: done }, async ({ services, actor, body: asked }) => {
  await addDiscount(services, actor, asked);
  return {};
});
