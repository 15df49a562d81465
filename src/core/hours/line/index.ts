export { type PrintResult, printLine } from "./print";
export { type LineError, type LineResult, readLine } from "./read";
export { type LineRowsResult, readLineRows } from "./rows";
export { suggestLine } from "./suggest";
