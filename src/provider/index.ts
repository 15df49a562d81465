export { type Clock, type ClockReading, remoteClock, systemClock } from "./clock";
export { httpProvider } from "./http";
export { type AccountAddress, DEFAULT_KIND, PROVIDER_KINDS, type ProviderKind, partsOf } from "./kinds";
export { type Mailer, type Message, noMailer, smtpMailer } from "./mail";
export {
  type ActAnswer,
  type ActRequest,
  type EventPage,
  type Feed,
  type FeedEvent,
  type LatestSample,
  type Listed,
  type MemberAnswer,
  type MemberRequest,
  type Members,
  type Meter,
  type MeterLine,
  NoAnswerError,
  type OptionalPart,
  type PriceList,
  type ProviderCommitment,
  ProviderError,
  type ProviderParts,
} from "./port";
export { type PromSeries, prometheusAt, seriesOf } from "./prometheus";
export { isHere } from "./reach";
export { postWebhook, SECRET_PREFIX } from "./webhook";
