export { CREDITS, FOCUS_COLUMNS, type FocusColumn, REQUIRED_COLUMNS } from "./columns";
export { type FocusLine, headerIssues, type LineReader, type LineResult, lineReader } from "./read";
export { focusCells, focusHeader } from "./write";
