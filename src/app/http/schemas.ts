import { z } from "zod";
import { idSchema, nameSchema } from "./input";

/** An address that ends with a number. */
export const byId = z.strictObject({ id: idSchema });

/** An address that ends with a name. */
export const byName = z.strictObject({ name: nameSchema });

/** The parameters of an address as pages have them: what is not understood falls back to what a first visit shows. */
export const pageQuery = z.record(z.string(), z.union([z.string(), z.array(z.string())]));
