export { type Clock, type ClockReading, remoteClock, systemClock } from "./clock";
export { httpProvider } from "./http";
export { type Mailer, type Message, noMailer, smtpMailer } from "./mail";
export {
  type ActAnswer,
  type ActRequest,
  type EventPage,
  type FeedEvent,
  type LatestSample,
  type Listed,
  type MemberAnswer,
  type MemberRequest,
  type MeterLine,
  type ProviderCommitment,
  ProviderError,
  type ProviderPort,
} from "./port";
export { type PromSeries, prometheusAt } from "./prometheus";
export { isHere, postWebhook } from "./webhook";
