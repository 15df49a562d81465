/** A command's result that is written as it stands, not as JSON. */
export class Text {
  constructor(readonly content: string) {}
}

/** The result of a command that wrote its text piece by piece already. */
export const WRITTEN = Symbol("written");

/** Writes a piece and waits until there is room for the next. */
export function writePiece(piece: string): Promise<void> {
  return new Promise((resolve, reject) => process.stdout.write(piece, (error) => (error ? reject(error) : resolve())));
}
