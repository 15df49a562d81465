export { isAddress } from "./address";
export { dueIssue, nextIssue, type ReportTime } from "./due";
