export * from "./mails";
export * from "./reports";
