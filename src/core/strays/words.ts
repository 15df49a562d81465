import type { StrayKind } from "./find";

/** What each kind is called, of one and of several; pages and mails say the same. */
const WORDS: Record<StrayKind, readonly [one: string, many: string]> = {
  "halted and billed": ["machine shut down from inside, and billed still", "machines shut down from inside, and billed still"],
  "disk without a machine": ["disk without a machine", "disks without a machine"],
  "address without a machine": ["address without a machine", "addresses without a machine"],
  "old image": ["old hibernation image", "old hibernation images"],
  "running long": ["machine running for long", "machines running for long"],
  "in no fleet": ["machine that no fleet has thought of", "machines that no fleet has thought of"],
  "tag that names nothing": ["tag that names nothing, or nearly something", "tags that name nothing, or nearly something"],
  "unused commitment": ["commitment that is not used up", "commitments that are not used up"],
};

/** `8 disks without a machine`. */
export function strayWords(kind: StrayKind, count: number): string {
  return `${count} ${WORDS[kind][count === 1 ? 0 : 1]}`;
}
