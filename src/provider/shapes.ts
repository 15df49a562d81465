import { z } from "zod";
import { asLevel } from "@/core/hours";
import { type ListedResource, RESOURCE_KINDS, RESOURCE_STATES, resourceKey } from "@/core/plan";
import { priceSchema, tryParseDecimal } from "@/core/pricing";
import { effectiveTags } from "@/core/selector";
import { isPlain } from "@/core/text";

/** Text that a database keeps: no NUL, no half of a pair of surrogates, no longer than anybody means. */
const text = z.string().max(4000, "is longer than 4000 characters").refine(isPlain, "has a character that is none");
const COUNT_MAX = 2 ** 31 - 1;
const count = z.number().int().min(0).max(COUNT_MAX);
const level = count.transform(asLevel);
/** Seconds since 1970, up to the year 3000. */
const instant = z.number().int().min(0).max(32_503_680_000);
const tags = z.record(text, text);

export const resourceShape = z.object({
  id: text.min(1),
  name: text.min(1),
  kind: z.enum(RESOURCE_KINDS),
  region: text,
  zone: text,
  size: text,
  os: text,
  purchase: text,
  tags,
  container: z.object({ name: text, tags }).nullable(),
  accountTags: tags,
  state: z.enum(RESOURCE_STATES),
  level,
  target: level,
  levelMax: count,
  since: instant,
  runSince: instant.nullable(),
  cores: count,
  memoryGib: count,
  diskGib: count,
  diskClass: text,
  addresses: count,
  attachedTo: text.nullable(),
});

export const resourcePageShape = z.object({ resources: z.array(z.unknown()), next: z.string().max(4000).nullable() });

export const eventShape = z.object({
  n: z.number().int().min(0),
  at: instant,
  resource: text,
  type: text,
  state: z.enum(RESOURCE_STATES),
  level,
  note: text,
});

export const eventPageShape = z.object({ events: z.array(z.unknown()), isMore: z.boolean() });

export const pricesShape = z.object({ from: instant, prices: z.array(priceSchema) });

const date = z.iso.date();
const decimal = z.string().refine((text) => tryParseDecimal(text) !== null, "expected a decimal from 0");

export const commitmentsShape = z.object({
  commitments: z.array(
    z.object({
      region: z.string(),
      size: z.string(),
      units: z.number().int().positive(),
      feePerHour: decimal,
      from: date,
      to: date,
    }),
  ),
});

export const usageShape = z.object({
  lines: z.array(
    z.object({
      id: z.string(),
      resource: z.string(),
      region: z.string(),
      item: z.string(),
      from: instant,
      to: instant,
      quantity: decimal,
      unit: z.string(),
      rate: decimal,
      cost: decimal,
    }),
  ),
});

export const metricShape = z.object({
  stepS: z.number().int().positive(),
  series: z.array(z.object({ resource: z.string(), samples: z.array(z.number().nullable()) })),
});

/** Samples of late: whatever is no number in them is a missing one, and spoils nothing else. */
export const latestShape = z.object({
  from: z.number().int(),
  stepS: z.number().int().positive(),
  series: z.array(z.object({ resource: z.string(), samples: z.array(z.unknown()) })),
});

/** Whom an order brought. */
export const madeShape = z.object({ resource: z.object({ id: text.min(1) }) });

export const refusalShape = z.object({ error: z.object({ code: z.string(), message: z.string() }) });

/** A listed resource as the core knows it. */
export function resourceOf(
  line: z.output<typeof resourceShape>,
  { account, provider }: { account: string; provider: string },
): ListedResource {
  const { id, attachedTo, region, zone, size, os, purchase, container, accountTags, tags: own, ...rest } = line;
  const fields: Record<string, string> = { account, provider, region, name: line.name, kind: line.kind };
  for (const [key, value] of Object.entries({ zone, size, os, purchase })) if (value !== "") fields[key] = value;
  return {
    ...rest,
    id: resourceKey(account, id),
    attachedTo: attachedTo === null ? null : resourceKey(account, attachedTo),
    fields,
    tags: effectiveTags({ tags: own, containerTags: container?.tags, accountTags }),
  };
}
