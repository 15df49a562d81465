type Asked = { running: Promise<unknown>; next: Promise<unknown> | null };

const asked = new Map<string, Asked>();

/**
 * Answers many who ask for the same at once by one piece of work. Nobody is given what began before they asked: who
 * comes while one is under way waits, with all the others, for the one after it. `key` names all that the work rests on.
 */
export function coalesce<T>(key: string, work: () => Promise<T>): Promise<T> {
  const known = asked.get(key) as { running: Promise<T>; next: Promise<T> | null } | undefined;
  if (!known) return begin(key, work);
  known.next ??= known.running.then(
    () => begin(key, work),
    () => begin(key, work),
  );
  return known.next;
}

function begin<T>(key: string, work: () => Promise<T>): Promise<T> {
  const own: Asked = { running: work(), next: null };
  asked.set(key, own);
  const end = () => {
    if (asked.get(key) === own && own.next === null) asked.delete(key);
  };
  own.running.then(end, end);
  return own.running as Promise<T>;
}
