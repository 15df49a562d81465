import "server-only";
import { type Actor, DEMO_ACTOR, openServices, type Services } from "@/services/admin";

const holder = globalThis as { umbrikServices?: Services };

/** The process's one set of services, made at the first request so that a build needs no database. */
export function services(): Services {
  holder.umbrikServices ??= openServices(process.env);
  return holder.umbrikServices;
}

/** Who is asking. One built-in person until accounts exist. */
export function actor(): Actor {
  return DEMO_ACTOR;
}
