/** Long work that stops now and then, so that whoever does it can do something else in between. */
export type Pieces<T> = Generator<void, T>;

/** How many like things are done between two stops. */
const AT_ONCE = 500;

/** `map`, with a stop after every few hundred. */
export function* mapped<A, B>(list: readonly A[], of: (one: A, i: number) => B): Pieces<B[]> {
  const made: B[] = [];
  for (let i = 0; i < list.length; i++) {
    if (i > 0 && i % AT_ONCE === 0) yield;
    made.push(of(list[i] as A, i));
  }
  return made;
}

/** All of it without a stop. */
export function atOnce<T>(work: Pieces<T>): T {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
  }
}
