export { type Clock, type ClockReading, remoteClock, systemClock } from "./clock";
export { httpProvider } from "./http";
export { type ActAnswer, type ActRequest, type FeedEvent, ProviderError, type ProviderPort } from "./port";
