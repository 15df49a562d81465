import { type HttpAccount, httpProvider } from "./http";
import { ProviderError, type ProviderParts } from "./port";

/** An account as it is set up: `kind` says which of the kinds below knows how to ask it. */
export type AccountAddress = Readonly<HttpAccount & { kind: string }>;

/** Makes the parts of an account. Nothing is asked any more once `signal` aborts. */
export type ProviderKind = (account: AccountAddress, signal?: AbortSignal) => ProviderParts;

/** What an account is of unless it says otherwise. */
export const DEFAULT_KIND = "http";

/** The kinds of providers there are. Another is a file beside this one, and a line here. */
export const PROVIDER_KINDS: Readonly<Record<string, ProviderKind>> = { [DEFAULT_KIND]: httpProvider };

/** The parts of an account, by its kind. Throws a ProviderError for a kind that nothing here knows. */
export const partsOf: ProviderKind = (account, signal) => {
  const kind = Object.hasOwn(PROVIDER_KINDS, account.kind) ? PROVIDER_KINDS[account.kind] : undefined;
  if (!kind) throw new ProviderError(`nothing here knows how to ask an account of the kind ${account.kind}`);
  return kind(account, signal);
};
