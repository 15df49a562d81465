/** The four accounts of Skerrywick Soundings. A key has only the rights that the job needs. */
export type AccountData = Readonly<{
  name: string;
  provider: string;
  key: string;
  rights: readonly ("list" | "start" | "stop" | "hibernate" | "resize")[];
  tags: Readonly<Record<string, string>>;
}>;

const ALL_RIGHTS = ["list", "start", "stop", "hibernate", "resize"] as const;

export const ACCOUNTS: readonly AccountData[] = [
  { name: "skerry-desks", provider: "norrhav", key: "demo-key-desks", rights: ALL_RIGHTS, tags: { payer: "drawing-office" } },
  { name: "skerry-survey", provider: "norrhav", key: "demo-key-survey", rights: ALL_RIGHTS, tags: { payer: "survey" } },
  { name: "skerry-south", provider: "brackwater", key: "demo-key-south", rights: ALL_RIGHTS, tags: { payer: "south-office" } },
  { name: "skerry-learn", provider: "brackwater", key: "demo-key-learn", rights: ALL_RIGHTS, tags: { payer: "training" } },
];

/** A key that may look and start, but not stop: for trying out what a refusal looks like. */
export const LOOK_AND_START_KEY = { account: "skerry-learn", key: "demo-key-learn-no-stop", rights: ["list", "start"] as const };
