import { z } from "zod";
import { planFileSchema } from "./file";

/** The JSON Schema of a plan file as it is written: published as docs/plan.schema.json. */
export function planJsonSchema(): unknown {
  return { title: "Umbrik plan file, version 1", ...z.toJSONSchema(planFileSchema, { io: "input" }) };
}
