/** What is odd, as a fact: a code, and beside it whatever is said of it. Every warning has this shape; its words are made where it is shown. */
export type Warning<Code extends string, Data = unknown> = Readonly<{ code: Code } & Data>;
