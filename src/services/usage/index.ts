export type { UsageImport } from "@/store";
export { type CorrectionView, correctionsOf } from "./corrections";
export { exportFocus } from "./export";
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
export { type Reconciliation, reconcile } from "./reconcile";
