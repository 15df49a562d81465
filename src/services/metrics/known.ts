/** The metrics that providers are asked for, by our names. What is pushed or pulled may have any other. */
export const PROVIDER_METRICS = [
  "cpu",
  "network",
  "disk.ops",
  "graphics",
  "sessions.active",
  "sessions.disconnected",
  "sessions.since_signoff",
] as const;
