export { type Clock, type ClockReading, remoteClock, systemClock } from "./clock";
export { httpProvider } from "./http";
export { type Mailer, type Message, noMailer, smtpMailer } from "./mail";
export {
  type ActAnswer,
  type ActRequest,
  type FeedEvent,
  type MeterLine,
  type ProviderCommitment,
  ProviderError,
  type ProviderPort,
} from "./port";
