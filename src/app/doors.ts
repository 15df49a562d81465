type Env = Readonly<Record<string, string | undefined>>;

/** The most characters of a text that is sent, but for files. */
export const BODY_MAX = 1_000_000;
/** A character takes up to four bytes, and as JSON up to six. */
export const BODY_BYTES_MAX = 6 * BODY_MAX;

/** Headers that keep a page from being framed, guessed at, or named to other sites. */
export const SAFE_HEADERS: readonly (readonly [string, string])[] = [
  ["x-content-type-options", "nosniff"],
  ["x-frame-options", "DENY"],
  ["referrer-policy", "same-origin"],
  ["cross-origin-opener-policy", "same-origin"],
  ["permissions-policy", "camera=(), microphone=(), geolocation=()"],
];

/** What a page may load: its own files, and the scripts of this very answer. */
export function policyFor(nonce: string): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    // Styles in place come with charts and with what is measured while it is dragged.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "worker-src 'self' blob:",
    "connect-src 'self'",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
}

const LOOPBACK = new Set(["127.0.0.1", "localhost", "[::1]"]);

/**
 * True where a request came under a name of ours: that of UMBRIK_URL, one of UMBRIK_HOSTS (commas between), or
 * this machine's own. Another name that leads here belongs to somebody else's page.
 */
export function isKnownHost(host: string | null, env: Env): boolean {
  if (host === null || !URL.canParse(`http://${host}`)) return false;
  const { hostname } = new URL(`http://${host}`);
  const own = env.UMBRIK_URL && URL.canParse(env.UMBRIK_URL) ? new URL(env.UMBRIK_URL).hostname : null;
  const others = (env.UMBRIK_HOSTS ?? "").split(",").map((name) => name.trim().toLowerCase());
  return LOOPBACK.has(hostname) || hostname === own || (hostname !== "" && others.includes(hostname));
}
