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
export { findOddities, type Oddity, type OddPlace } from "./odd";
export { strayWords } from "./words";
