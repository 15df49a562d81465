/** A figure as a page shows it, as a number. */
export const number = (text: string | null | undefined): number =>
  Number((text ?? "NaN").replace("\u2212", "-").replaceAll(/[\u00a0\u202f ]/g, ""));

/** Half a cent, and what is lost in floating: as far as a shown figure may be from what it stands for. */
export const CENT = 0.005001;

/** An amount in euros. */
export const euros = (amount: bigint): number => Number(amount) / 2.628e15;
