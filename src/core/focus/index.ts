export {
  CREDITS,
  FOCUS_COLUMNS,
  type FocusColumn,
  REQUIRED_COLUMNS,
  WRITTEN_COLUMNS,
  type WrittenColumn,
} from "./columns";
export { type Delimiter, delimiterOf, lineEnds } from "./csv-text";
export { type FocusLine, headerIssues, type LineReader, type LineResult, lineReader } from "./read";
export { focusCells, type WrittenLine, writtenCells } from "./write";
