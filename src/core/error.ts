/** What an error is about, by name: for logs and answers, never to be parsed out of the message. */
export type Facts = Readonly<Record<string, unknown>>;

/**
 * Anything that goes wrong in a way that was thought of: a code for programs, a message that can be
 * shown to a person as it is, and the facts. Whatever is thrown and is none of these is a fault of ours.
 */
export abstract class AppError extends Error {
  abstract readonly code: string;
  readonly facts: Facts;

  constructor(message: string, { facts = {}, cause }: Readonly<{ facts?: Facts; cause?: unknown }> = {}) {
    super(message, cause === undefined ? undefined : { cause });
    this.facts = facts;
    this.name = new.target.name;
  }
}
