export type FieldIssue = Readonly<{ path: string; message: string }>;

/** The server's answer to something that cannot be done: what is wrong, and at which fields. */
export class AnswerError extends Error {
  constructor(
    message: string,
    readonly code: string,
    readonly fields: readonly FieldIssue[] = [],
  ) {
    super(message);
  }
}

/** Asks the application's own API; what is wrong comes as problem details (RFC 9457). Throws an AnswerError that can be shown as it is. */
export async function ask<T>(
  path: string,
  { method = "GET", body, signal }: { method?: string; body?: unknown; signal?: AbortSignal } = {},
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { "content-type": "application/json" } }),
      ...(signal ? { signal } : {}),
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    throw new AnswerError("The application does not answer. What you typed is still here; try again.", "silent");
  }
  const answer = await response.json().catch(() => null);
  if (response.ok) return answer as T;
  throw new AnswerError(
    answer?.detail ?? `The application answered ${response.status}.`,
    answer?.code ?? "",
    answer?.fields ?? [],
  );
}
