export {
  CREDITS,
  FOCUS_COLUMNS,
  type FocusColumn,
  NUMBER_COLUMNS,
  REQUIRED_COLUMNS,
  WRITTEN_COLUMNS,
  type WrittenColumn,
} from "./columns";
export { type FocusLine, headerIssues, type LineReader, type LineResult, lineReader } from "./read";
export { focusCells, focusHeader, type WrittenLine, writtenCells } from "./write";
