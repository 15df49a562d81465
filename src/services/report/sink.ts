import { z } from "zod";
import { type Actor, authorise, ESTATE, type Services } from "../admin";

const mailSchema = z.object({
  name: z.string(),
  at: z.string(),
  to: z.string(),
  subject: z.string(),
  html: z.string(),
  text: z.string(),
});

export type SunkMail = Readonly<z.infer<typeof mailSchema>>;

/** The newest mails that the demo's mail sink took, as they came; null where there is no sink. */
export async function sunkMails(services: Services, actor: Actor): Promise<readonly SunkMail[] | null> {
  authorise(actor, "look", ESTATE);
  if (services.sinkUrl === null) return null;
  const answer: unknown = await (await fetch(services.sinkUrl, { cache: "no-store" })).json();
  return z.object({ mails: z.array(mailSchema) }).parse(answer).mails;
}
