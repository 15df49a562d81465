export {
  deleteReport,
  dropRecipient,
  followLink,
  inviteRecipient,
  type LinkView,
  type OpenReport,
  openMail,
  previewReport,
  type ReportDraft,
  type ReportPreview,
  type ReportsView,
  reportEditSchema,
  reportsView,
  saveReport,
  viewLink,
} from "./reports";
export { issueDueReports, retryMail, sendMail, sendNow } from "./send";
export { ensureSigningKey } from "./sign";
export { type SunkMail, sunkMails } from "./sink";
