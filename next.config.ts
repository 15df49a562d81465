import type { NextConfig } from "next";

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  serverExternalPackages: [
    "pg",
    "esbuild",
    "graphile-worker",
    "pg-copy-streams",
    "date-holidays",
    "ical.js",
    "pino",
    "protobufjs",
    "rrule",
  ],
  typescript: { ignoreBuildErrors: true }, // `npm test` checks types; a start need not do it twice
};

export default config;
