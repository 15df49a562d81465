export {
  DEFAULT_AGES,
  findStrays,
  STRAY_KINDS,
  type Stray,
  type StrayAges,
  type StrayInput,
  type StrayKind,
  type StraySum,
  straySums,
  strayTotal,
} from "./find";
export { type Finding, type FindingPlace, findFindings } from "./findings";
export { strayWords } from "./words";
