export { type InventoryResource, inventoryResourceSchema, inventorySchema } from "./inventory";
export { matcher, matchesGlob, necessaryValue, valueUnder } from "./match";
export { isMistake, type NearMiss, nearMisses } from "./near-miss";
export { editDistance, isNearMiss, nearest } from "./nearest";
export {
  parseSelector,
  type Selector,
  type SelectorResult,
  type SelectorText,
  selectorOf,
  selectorText,
  tryParseSelector,
} from "./parse";
export {
  effectiveTags,
  RESERVED_KEYS,
  type ReservedKey,
  type Selectable,
  selectable,
} from "./resource";
export { SelectorError } from "./token";
export { type SelectorWarning, selectorWarnings } from "./warn";
export { clauseText } from "./write";
