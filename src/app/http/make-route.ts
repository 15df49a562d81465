import "server-only";
import { z } from "zod";
import { type Actor, authorise, type Right, type Scope, type Services } from "@/services/admin";
import { actor, services } from "../services";
import type { Answer } from "./answers";
import { checked, jsonOf, queryOf, refuseElsewhere } from "./input";
import { problem } from "./problem";

/** What comes in with a request, by schema; what is not named here is not read. */
export type Input<P, Q, B> = Readonly<{
  /** The parts of the address between slashes. */
  params?: z.ZodType<P>;
  query?: z.ZodType<Q>;
  /** A JSON body. */
  body?: z.ZodType<B>;
}>;

/** A request as its handler gets it: read, checked and allowed. */
export type Asked<P, Q, B> = Readonly<{ params: P; query: Q; body: B; request: Request; actor: Actor; services: Services }>;

/** `anyone`: what comes with the request, a signed token or a key, is all the right that is asked for, and the use case looks at it. */
export type RouteRight = Right | "anyone";

/** What a request is about; the use case asks again once it knows more. */
type ScopeOf<P, Q, B> = (asked: Omit<Asked<P, Q, B>, "actor" | "services">) => Scope;

type Context = { params: Promise<Record<string, string>> };
type Schema<P, Q, B, A> = Readonly<{ input: Input<P, Q, B>; answer: Answer<A> }>;
export type Route = (request: Request, context: Context) => Promise<Response>;

const nothing = z.unknown();

/**
 * Makes a route handler, and nothing else does. In this order: another site is refused where something is changed; the input is
 * read and checked; the actor's right on what it is about is asked for; the work is done; what is wrong leaves as problem details.
 */
export function route<P, Q, B, A>(
  right: RouteRight,
  scope: ScopeOf<P, Q, B>,
  { input, answer }: Schema<P, Q, B, A>,
  handler: (asked: Asked<P, Q, B>) => Promise<A> | A,
): Route {
  return async (request, context) => {
    try {
      if (right !== "anyone" && request.method !== "GET") refuseElsewhere(request);
      const params = checked(input.params ?? (nothing as z.ZodType<P>), await context.params);
      const query = checked(input.query ?? (nothing as z.ZodType<Q>), input.query ? queryOf(request) : {});
      const body = checked(input.body ?? (nothing as z.ZodType<B>), input.body ? await jsonOf(request) : undefined);
      const asked = { params, query, body, request };
      if (right !== "anyone") authorise(actor(), right, scope(asked));
      return await answer.send(await handler({ ...asked, actor: actor(), services: services() }));
    } catch (error) {
      return problem(error);
    }
  };
}
