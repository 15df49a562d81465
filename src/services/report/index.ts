export { mailAlert } from "./alert";
export { issueDueReports, queueMail, retryMail, sendMail, sendNow } from "./deliver";
export { noticeHtml } from "./html";
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
export { type SunkMail, sunkMails } from "./sink";
export { timeText } from "./words";
