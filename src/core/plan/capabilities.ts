import { z } from "zod";

const billingSchema = z.strictObject({ granularityS: z.number().int().positive(), minimumS: z.number().int().min(0) });

/** What a provider says of itself. The application branches on this, never on a provider's name. */
export const capabilitiesSchema = z.strictObject({
  provider: z.string(),
  currency: z.string().length(3),
  billing: z.strictObject({ machine: billingSchema, group: billingSchema, service: billingSchema }),
  /** Compute goes on being billed for a machine that was shut down from inside the guest. */
  billedWhenHalted: z.boolean(),
  /** Null where machines cannot be hibernated. */
  hibernate: z.strictObject({ os: z.array(z.string()), memoryGibMax: z.number() }).nullable(),
  spot: z.strictObject({ noticeS: z.number(), ineligibleSizes: z.array(z.string()) }),
  /** Usual time of a change of state, seconds. */
  usualS: z.strictObject({ start: z.number(), resume: z.number(), stop: z.number(), hibernate: z.number() }),
  regions: z.array(z.strictObject({ name: z.string(), peopleZone: z.string(), zones: z.array(z.string()) })),
});

export type Capabilities = z.infer<typeof capabilitiesSchema>;

/** What the provider of each account says of itself: two accounts of one provider may have different rights and regions. */
export type CapabilitiesByAccount = ReadonlyMap<string, Capabilities>;

/** What counts for a resource; undefined while its account has not been read. */
export function capabilitiesFor(
  { fields }: Readonly<{ fields: Readonly<{ account?: string | undefined }> }>,
  byAccount: CapabilitiesByAccount,
): Capabilities | undefined {
  return byAccount.get(fields.account ?? "");
}
