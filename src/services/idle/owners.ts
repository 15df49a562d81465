import { z } from "zod";
import { isAddress } from "@/core/report";
import { type Db, maybeSetting, saveSetting } from "@/store";
import { type Actor, authorise, ESTATE, RefusedError, type Services } from "../admin";

const OWNERS = "owners' mail";
const ownersSchema = z.strictObject({
  /** The tag that names an owner. */
  tag: z.string().trim().min(1).max(200),
  /** What comes after an owner's name in their address, such as example.org; empty where the tag holds whole addresses. */
  domain: z.string().trim().max(200),
});
export type OwnersMail = z.infer<typeof ownersSchema>;

const AS_TAGGED: OwnersMail = { tag: "owner", domain: "" };

/** How owners' tags become addresses. */
export async function ownersMail(db: Db): Promise<OwnersMail> {
  return (await maybeSetting(db, OWNERS, ownersSchema)) ?? AS_TAGGED;
}

/** The same, for whoever may look. */
export async function ownersMailOf({ pool }: Services, actor: Actor): Promise<OwnersMail> {
  authorise(actor, "look", ESTATE);
  return ownersMail(pool);
}

/** Says how owners are written to. Throws a RefusedError where no address could come of it. */
export async function setOwnersMail({ pool }: Services, actor: Actor, given: OwnersMail): Promise<void> {
  authorise(actor, "set up", ESTATE);
  const parsed = ownersSchema.safeParse(given);
  if (!parsed.success) throw new RefusedError("invalid", "A tag is asked for.", [{ path: "tag", message: "a tag is asked for" }]);
  const domain = parsed.data.domain.replace(/^@/, "");
  if (domain !== "" && !isAddress(`a@${domain}`))
    throw new RefusedError("invalid", "That is no domain.", [
      { path: "domain", message: "expected a domain such as example.org" },
    ]);
  await saveSetting(pool, OWNERS, { ...parsed.data, domain });
}

/** The address of whoever owns a thing with such tags; null where none can be told. */
export function addressOf(tags: Readonly<Record<string, string>>, { tag, domain }: OwnersMail): string | null {
  const owner = tags[tag]?.trim() ?? "";
  if (isAddress(owner)) return owner;
  const made = `${owner}@${domain}`;
  return domain !== "" && isAddress(made) ? made : null;
}
