import { z } from "zod";
import { answers, byId, estate, route } from "@/app/http";
import { removeHook, setHook } from "@/services/notify";

const set = z.strictObject({ isOn: z.boolean() });

export const PUT = route(
  "set up",
  estate,
  { input: { params: byId, body: set }, answer: answers(set) },
  async ({ services, actor, params, body: { isOn } }) => {
    await setHook(services, actor, { id: params.id, isOn });
    return { isOn };
  },
);

export const DELETE = route(
  "set up",
  estate,
  { input: { params: byId }, answer: answers(z.strictObject({ isRemoved: z.literal(true) })) },
  async ({ services, actor, params }) => {
    await removeHook(services, actor, params.id);
    return { isRemoved: true as const };
  },
);
