import { PRICE_ITEMS, tryParsePercent } from "@/core/pricing";
import { tryParseDate } from "@/core/time";
import { discountList, removeDiscount, addDiscount as storeDiscount } from "@/store";
import { type Actor, authorise, ESTATE, type FieldIssue, RefusedError, type Services } from "../../admin";
import { byProvider, loadSnapshot } from "../../inventory";
import { changeFrom } from "./change-from";

export type DiscountDraft = Readonly<Record<"provider" | "item" | "size" | "purchase" | "percent" | "from" | "to", string>>;

/** Enters a share off what a provider asks; every field that is wrong is named at once. */
export async function addDiscount(services: Services, actor: Actor, draft: DiscountDraft): Promise<void> {
  authorise(actor, "set prices", ESTATE);
  const snapshot = await loadSnapshot(services);
  const [from, to] = [tryParseDate(draft.from), tryParseDate(draft.to)];
  const issues: FieldIssue[] = [];
  const check = (isFine: boolean, path: keyof DiscountDraft, message: string) => {
    if (!isFine) issues.push({ path, message });
  };
  check(
    byProvider(snapshot).has(draft.provider),
    "provider",
    `provider "${draft.provider}": expected ${[...byProvider(snapshot).keys()].join(" or ")}`,
  );
  const isItem = draft.item === "" || PRICE_ITEMS.some((one) => one === draft.item);
  check(isItem, "item", `item "${draft.item}": expected one of ${PRICE_ITEMS.join(", ")}, or none for any`);
  check(tryParsePercent(draft.percent) !== null, "percent", `percent "${draft.percent}": expected a decimal above 0 up to 100`);
  check(from !== null, "from", `from "${draft.from}": expected a date such as 2027-01-01`);
  check(to !== null && (from === null || to >= from), "to", `to "${draft.to}": expected a date, not before ${draft.from}`);
  if (issues.length > 0) throw new RefusedError("invalid", issues[0]?.message ?? "", issues);
  const { provider, item, size, purchase, percent } = draft;
  await changeFrom(services, actor, {
    day: draft.from,
    cause: `discount of ${percent} % of ${provider} entered`,
    make: (tx) =>
      storeDiscount(tx, { provider, item, size, purchase, percent, fromDay: draft.from, toDay: draft.to }, actor.name),
  });
}

export async function dropDiscount(services: Services, actor: Actor, id: number): Promise<void> {
  authorise(actor, "set prices", ESTATE);
  const known = (await discountList(services.pool)).find((one) => one.id === id);
  const gone = new RefusedError("not_found", "That discount is gone already.");
  if (!known) throw gone;
  await changeFrom(services, actor, {
    day: known.fromDay,
    cause: `discount of ${known.percent} % of ${known.provider} taken away`,
    make: async (tx) => {
      if (!(await removeDiscount(tx, id))) throw gone;
    },
  });
}
