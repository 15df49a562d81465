import type { Order } from "./mix";

/** Why a step of a mix is taken. Units; minutes; prices per hour in the currency of the pool. */
export type StepReason =
  | Readonly<{ code: "firm missing" | "firm spare"; have: number; wanted: number }>
  | Readonly<{ code: "spot spare"; have: number; wanted: number }>
  /** By this code those of a day are counted. */
  | Readonly<{ code: "unhealthy" }>
  | Readonly<{ code: "over its cap"; pool: string; price: number; cap: number | null }>
  | Readonly<{ code: "spot is up" | "disks not waited for" | "disks kept" | "disks kept and pool back" }>
  | Readonly<{ code: "nothing to be had"; minutes: number }>
  | Readonly<{ code: "spot to be had again"; pool: string | null }>
  | Readonly<{ code: "next in order"; order: Order }>
  | Readonly<{ code: "no mix any more" }>;

export type StepCause = StepReason["code"];

/** Why a step of a mix is taken, in a sentence of the journal. */
export function stepReasonWords(reason: StepReason): string {
  switch (reason.code) {
    case "firm missing":
      return `${reason.have} of ${reason.wanted} firm units are there`;
    case "firm spare":
      return `${reason.have} firm units are there, and ${reason.wanted} are wanted`;
    case "spot spare":
      return `${reason.have} spot units are there, and ${reason.wanted} are wanted`;
    case "unhealthy":
      return "it has been unhealthy, and is replaced";
    case "over its cap":
      return `${reason.pool} costs ${reason.price}, over its cap of ${reason.cap}`;
    case "spot is up":
      return "spot is up in its place";
    case "disks not waited for":
      return "nothing waits for its disks any more";
    case "disks kept":
      return "its disks were kept";
    case "disks kept and pool back":
      return "its disks were kept, and its pool has machines again";
    case "nothing to be had":
      return `nothing was to be had for ${reason.minutes} min`;
    case "spot to be had again":
      return `spot may be had again: ${reason.pool} in place of what stands in`;
    case "next in order":
      return `next by the order ${reason.order}`;
    case "no mix any more":
      return "its plan has no mix any more, and the group is as it is due by itself";
  }
}
