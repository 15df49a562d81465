import { ESTATE, type Scope } from "@/services/admin";

/** Everything there is. */
export const estate = (): Scope => ESTATE;

/** The fleet whose number the address has. */
export const ofFleet = ({ params }: Readonly<{ params: Readonly<{ id: number }> }>): Scope => ({
  kind: "fleet",
  fleet: params.id,
});

/** The machine whose key the address has. */
export const ofResource = ({ params }: Readonly<{ params: Readonly<{ id: string }> }>): Scope => ({
  kind: "resource",
  id: params.id,
  fleet: null,
});

/** What a hold or a pause is placed on. */
export function onOf({ body: { on } }: Readonly<{ body: Readonly<{ on: { resourceId: string } | { fleet: string } }> }>): Scope {
  return "fleet" in on ? { kind: "fleet", fleet: on.fleet } : { kind: "resource", id: on.resourceId, fleet: null };
}

/** An account, or everything where none is named. */
export function ofAccount({ body: { account } }: Readonly<{ body: Readonly<{ account: string | null }> }>): Scope {
  return account === null ? ESTATE : { kind: "account", account };
}
