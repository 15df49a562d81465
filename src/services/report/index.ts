export { mailAlert } from "./alert";
export { issueDueReports, retryMail, sendMail, sendNow } from "./deliver";
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
export { ensureSigningKey } from "./sign";
export { type SunkMail, sunkMails } from "./sink";
