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
export { strayWords } from "./words";
