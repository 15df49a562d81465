import { z } from "zod";
import { asLevel } from "@/core/hours";
import { type ListedResource, RESOURCE_KINDS, RESOURCE_STATES } from "@/core/plan";
import { priceSchema, tryParseDecimal } from "@/core/pricing";
import { effectiveTags } from "@/core/selector";

const level = z.number().int().min(0).transform(asLevel);
const instant = z.number().int();
const tags = z.record(z.string(), z.string());

const resourceShape = z.object({
  id: z.string().min(1),
  name: z.string().min(1),
  kind: z.enum(RESOURCE_KINDS),
  account: z.string(),
  region: z.string(),
  zone: z.string(),
  size: z.string(),
  os: z.string(),
  purchase: z.string(),
  tags,
  container: z.object({ name: z.string(), tags }).nullable(),
  accountTags: tags,
  state: z.enum(RESOURCE_STATES),
  level,
  target: level,
  levelMax: z.number().int().min(0),
  since: instant,
  runSince: instant.nullable(),
  cores: z.number().int().min(0),
  memoryGib: z.number().int().min(0),
  diskGib: z.number().int().min(0),
  diskClass: z.string(),
  addresses: z.number().int().min(0),
  attachedTo: z.string().nullable(),
});

export const resourcePageShape = z.object({ resources: z.array(resourceShape), next: z.string().nullable() });

export const eventPageShape = z.object({
  events: z.array(
    z.object({
      n: z.number().int(),
      at: instant,
      resource: z.string(),
      type: z.string(),
      state: z.enum(RESOURCE_STATES),
      level,
      note: z.string(),
    }),
  ),
  isMore: z.boolean(),
});

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

export const refusalShape = z.object({ error: z.object({ code: z.string(), message: z.string() }) });

/** A listed resource as the core knows it. */
export function resourceOf(line: z.output<typeof resourceShape>, provider: string): ListedResource {
  const { account, region, zone, size, os, purchase, container, accountTags, tags: own, ...rest } = line;
  const fields: Record<string, string> = { account, provider, region, name: line.name, kind: line.kind };
  for (const [key, value] of Object.entries({ zone, size, os, purchase })) if (value !== "") fields[key] = value;
  return { ...rest, fields, tags: effectiveTags({ tags: own, containerTags: container?.tags, accountTags }) };
}
