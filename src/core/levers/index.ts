export { LEVER_KINDS, type LeverKind } from "../projection";
export { amountOfMoney, type DayBefore, type DayLever, type LeverDay, promisedBy, savedByLever, spreadOfDays } from "./day";
export type { Lever } from "./lever";
export { LEVERS, leversPulled, leverWords } from "./levers";
export { type Evidence, type GivenLevers, layLevers, type PlanProjected, projectPlan } from "./project-plan";
export {
  type ProjectedResource,
  projectedInventorySchema,
  projectSpan,
  type SpanFleet,
  type SpanPrice,
  type SpanResult,
  spanPricesSchema,
} from "./span";
