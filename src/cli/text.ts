/** A command's result that is written as it stands, not as JSON. */
export class Text {
  constructor(readonly content: string) {}
}
