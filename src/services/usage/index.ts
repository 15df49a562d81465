export type { UsageImport } from "@/store";
export { type ExportRequest, exportFocus } from "./export";
export {
  cancelImport,
  imports,
  type OpenImport,
  openImport,
  receiveImport,
  resumeImports,
  runErase,
  runImport,
  takeBackImport,
} from "./import";
export { pullUsage } from "./pull";
export { type Difference, type Reconciliation, reconcile } from "./reconcile";
