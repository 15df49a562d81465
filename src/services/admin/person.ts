import { AppError } from "@/core/error";
/** Who acts. One built-in person for now; accounts and rights come in here and nowhere else. */
export type Person = Readonly<{ name: string; rights: readonly Right[] }>;

export const RIGHTS = [
  "set up",
  "look",
  "edit plans",
  "put in force",
  "hold",
  "stop",
  "import",
  "send reports",
  "set prices",
  "run rounds",
  "move the clock",
] as const;
export type Right = (typeof RIGHTS)[number];

export const DEMO_PERSON: Person = { name: "demo", rights: RIGHTS };

/** The rounds themselves: they read and carry plans out, and never change one. */
export const ROUNDS_WORKER: Person = { name: "worker", rights: ["look", "run rounds"] };

export class NotAllowedError extends AppError {
  readonly code = "not_allowed";
  constructor(person: string, right: Right) {
    super(`${person} may not ${right}.`, { facts: { person, right } });
  }
}

/** Every use case passes here first. Throws a NotAllowedError. */
export function authorise(person: Person, right: Right): void {
  if (!person.rights.includes(right)) throw new NotAllowedError(person.name, right);
}
