import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

/** The root of the clone. */
export const ROOT = join(dirname(fileURLToPath(import.meta.url)), "../..");
/** Everything made at run time; ignored by git. */
export const STATE = join(ROOT, ".umbrik");
