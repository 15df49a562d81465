export { GROUPINGS, type Grouping, isGrouping, ONLY, type Only, SORTS, type Sort } from "./grouping";
export {
  addCost,
  billedLevel,
  billedRuns,
  COST_ITEMS,
  type Cost,
  type CostItem,
  cardAt,
  costBySteps,
  costOver,
  isThereAt,
  type LedgerInput,
  type LifeSpan,
  noCost,
  stepCost,
  totalOf,
} from "./ledger";
export { type CostPiece, costPieces } from "./pieces";
export { type RunMeter, runMeter } from "./running";
export { type LifeMeter, lifeMeter, stateRates, stepSums } from "./total";
