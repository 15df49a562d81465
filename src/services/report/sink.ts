import PostalMime from "postal-mime";
import { z } from "zod";
import { authorise, type Person, RefusedError, type Services } from "../admin";

const listSchema = z.object({ mails: z.array(z.object({ name: z.string(), at: z.string() })) });

export type SunkMail = Readonly<{ name: string; at: string; to: string; subject: string; html: string; text: string }>;

/** The newest mails that the demo's mail sink took, as they came; empty where there is no sink. */
export async function sunkMails(services: Services, person: Person): Promise<readonly SunkMail[] | null> {
  authorise(person, "look");
  if (services.sinkUrl === null) return null;
  const { mails } = listSchema.parse(await (await fetch(services.sinkUrl, { cache: "no-store" })).json());
  return Promise.all(
    mails.slice(0, 30).map(async ({ name, at }) => {
      const response = await fetch(`${services.sinkUrl}/${encodeURIComponent(name)}`, { cache: "no-store" });
      if (!response.ok) throw new RefusedError("not_found", `The sink has no mail ${name}.`);
      const mail = await PostalMime.parse(await response.arrayBuffer());
      const to = (mail.to ?? []).map(({ address }) => address ?? "").join(", ");
      return { name, at, to, subject: mail.subject ?? "", html: mail.html ?? "", text: mail.text ?? "" };
    }),
  );
}
