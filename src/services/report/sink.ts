import { z } from "zod";
import { authorise, type Person, type Services } from "../admin";

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
export async function sunkMails(services: Services, person: Person): Promise<readonly SunkMail[] | null> {
  authorise(person, "look");
  if (services.sinkUrl === null) return null;
  const answer: unknown = await (await fetch(services.sinkUrl, { cache: "no-store" })).json();
  return z.object({ mails: z.array(mailSchema) }).parse(answer).mails;
}
