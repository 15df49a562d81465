import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

/** The root of the clone. */
export const ROOT = join(dirname(fileURLToPath(import.meta.url)), "../..");
/** What is made once for the clone, such as stamps of what was built; ignored by git. */
export const STATE = join(ROOT, ".umbrik");
/** The data of a running application: the cluster and the stand-in's world. */
export const DATA = process.env.UMBRIK_DATA ?? STATE;
