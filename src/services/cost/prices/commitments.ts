import { tryParseHourRate } from "@/core/pricing";
import { tryParseDate } from "@/core/time";
import { commitmentList, type NewCommitment, removeCommitment, saveCommitments } from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, RefusedError, type Services } from "../../admin";
import { byProvider, currencyOf, loadSnapshot, type Snapshot } from "../../inventory";
import { changeFrom } from "./change-from";
import { readCsv, refuseIssues } from "./read-csv";

const COMMITMENT_COLUMNS = ["provider", "account", "region", "size", "units", "fee_per_hour", "from", "to"] as const;

/** Enters commitments by hand, one or a CSV of them: all or none. Days they change are reckoned anew. */
export async function importCommitments(services: Services, actor: Actor, text: string): Promise<{ lines: number }> {
  authorise(actor, "set prices", ESTATE);
  const snapshot = await loadSnapshot(services);
  const { rows, issues } = readCsv(text, COMMITMENT_COLUMNS, { currency: currencyOf(snapshot) });
  const commitments = rows.flatMap(({ line, cells }): NewCommitment[] => {
    const result = commitmentOf(cells, snapshot);
    if (result.ok) return [result.commitment];
    issues.push(...result.issues.map(({ message }) => ({ path: String(line), message })));
    return [];
  });
  refuseIssues(issues);
  await keepCommitments(services, actor, commitments);
  return { lines: commitments.length };
}

export type CommitmentDraft = Readonly<Record<(typeof COMMITMENT_COLUMNS)[number], string>>;

/** Enters one commitment; the field at fault is named. */
export async function addCommitment(services: Services, actor: Actor, draft: CommitmentDraft): Promise<void> {
  authorise(actor, "set prices", ESTATE);
  const result = commitmentOf(draft, await loadSnapshot(services));
  if (!result.ok) throw new RefusedError("invalid", result.issues[0]?.message ?? "", result.issues);
  await keepCommitments(services, actor, [result.commitment]);
}

async function keepCommitments(services: Services, actor: Actor, commitments: readonly NewCommitment[]): Promise<void> {
  const [first] = commitments.map(({ fromDay }) => fromDay).sort();
  if (!first) return;
  const what =
    commitments.length === 1
      ? `commitment of ${commitments[0]?.units} × ${commitments[0]?.size}`
      : `${commitments.length} commitments`;
  await changeFrom(services, actor, {
    day: first,
    cause: `${what} entered`,
    make: (tx) => saveCommitments(tx, commitments, actor.name),
  });
}

/** Takes away a commitment that was entered by hand; what a provider lists stays. */
export async function dropCommitment(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "set prices", ESTATE);
  const known = (await commitmentList(services.pool)).find((one) => one.id === id);
  const gone = new RefusedError("not_found", "It is gone already, or its provider lists it, and only the provider can end it.");
  if (!known) throw gone;
  await changeFrom(services, actor, {
    day: known.fromDay,
    cause: `commitment of ${known.units} × ${known.size} taken away`,
    make: async (tx) => {
      if (!(await removeCommitment(tx, id))) throw gone;
    },
  });
}

type CommitmentResult = Readonly<{ ok: true; commitment: NewCommitment } | { ok: false; issues: readonly FieldIssue[] }>;

/** Every field that is wrong, at once. */
function commitmentOf(cells: CommitmentDraft, snapshot: Snapshot): CommitmentResult {
  const issues: FieldIssue[] = [];
  const check = (isFine: boolean, path: keyof CommitmentDraft, message: string) => {
    if (!isFine) issues.push({ path, message });
  };
  const provider = byProvider(snapshot).get(cells.provider);
  const [from, to] = [tryParseDate(cells.from), tryParseDate(cells.to)];
  const names = [...byProvider(snapshot).keys()].join(" or ");
  check(provider !== undefined, "provider", `provider "${cells.provider}": expected ${names}`);
  const isKnownAccount = cells.account === "" || snapshot.accounts.some(({ name }) => name === cells.account);
  check(isKnownAccount, "account", `account "${cells.account}" is not set up; leave it empty for any`);
  const isRegion = !provider || provider.regions.some(({ name }) => name === cells.region);
  check(isRegion, "region", `region "${cells.region}" is none of ${cells.provider}`);
  check(cells.size !== "", "size", "a size is asked for");
  check(/^[1-9]\d{0,5}$/.test(cells.units), "units", `units "${cells.units}": expected a whole number from 1`);
  const isFee = tryParseHourRate(cells.fee_per_hour) !== null;
  check(isFee, "fee_per_hour", `fee "${cells.fee_per_hour}": expected a decimal from 0 with at most nine decimals`);
  check(from !== null, "from", `from "${cells.from}": expected a date such as 2027-01-01`);
  check(to !== null && (from === null || to >= from), "to", `to "${cells.to}": expected a date, not before ${cells.from}`);
  if (issues.length > 0) return { ok: false, issues };
  const { account, region, size } = cells;
  return {
    ok: true,
    commitment: {
      provider: cells.provider,
      account,
      region,
      size,
      units: Number(cells.units),
      feePerHour: cells.fee_per_hour,
      fromDay: cells.from,
      toDay: cells.to,
      source: "hand",
    },
  };
}
