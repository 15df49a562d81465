export {
  addCompared,
  compareDay,
  type DayCompared,
  type DayOfResource,
  type DueStretch,
  GAP_CAUSES,
  type Gap,
  type GapCause,
} from "./compare";
export { type UnitsLife, withUnits } from "./with-units";
