import { readFileSync } from "node:fs";
import { z } from "zod";
import { accountNameIssue } from "@/core/plan";

const accountsSchema = z
  .array(
    z.strictObject({
      name: z.string(),
      provider: z.string().trim().min(1).max(80),
      /** Which kind of provider it is of; left out, of the common one. */
      kind: z.string().trim().min(1).max(40).optional(),
      baseUrl: z.url({ protocol: /^https?$/ }),
      key: z.string().min(1).max(4000),
    }),
  )
  .superRefine((accounts, context) => {
    const seen = new Set<string>();
    accounts.forEach(({ name }, i) => {
      const issue = accountNameIssue(name);
      if (issue) context.addIssue({ code: "custom", path: [i, "name"], message: issue });
      if (seen.has(name)) context.addIssue({ code: "custom", path: [i, "name"], message: `"${name}" is there twice` });
      seen.add(name);
    });
  });

export type AccountsFile = z.infer<typeof accountsSchema>;

/** The accounts of a JSON file, by docs/operations.md. Throws with what is wrong, never with a key. */
export function readAccounts(path: string): AccountsFile {
  let data: unknown;
  try {
    data = JSON.parse(readFileSync(path, "utf8"));
  } catch (error) {
    const isSyntax = error instanceof SyntaxError;
    throw new Error(`UMBRIK_ACCOUNTS ${path}: ${isSyntax ? "it is not JSON" : "it cannot be read"}`);
  }
  const parsed = accountsSchema.safeParse(data);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new Error(`UMBRIK_ACCOUNTS ${path}: ${issue?.path.join(".") || "it"}: ${issue?.message}`);
}
