/** Ends a command without a result: 1 where the data does not allow one, 2 for wrong use. One line on stderr each. */
export class Problem extends Error {
  constructor(
    readonly exitCode: 1 | 2,
    readonly lines: readonly string[],
  ) {
    super(lines[0]);
  }
}

export function wrongUse(...lines: string[]): never {
  throw new Problem(2, lines);
}

export function noAnswer(...lines: string[]): never {
  throw new Problem(1, lines);
}
