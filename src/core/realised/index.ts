export {
  addCompared,
  compareDay,
  type DayCompared,
  type DayOfResource,
  type DueSpan,
  GAP_CAUSES,
  type Gap,
  type GapCause,
} from "./compare";
