import { z } from "zod";

/** What a route answers: the schema of what its handler gives, and how that is sent. */
export type Answer<A> = Readonly<{ schema: z.ZodType<A>; send: (value: A) => Response | Promise<Response> }>;

const json = (value: unknown) => Response.json(value);

/** JSON of a schema that is checked before it leaves. */
export function answers<A>(schema: z.ZodType<A>): Answer<A> {
  return { schema, send: (value) => json(schema.parse(value)) };
}

/** JSON of what a use case returns: of its type, which the compiler has checked, so that thousands of lines are not read again. */
export function answersWith<F extends (...args: never[]) => unknown>(): Answer<Awaited<ReturnType<F>>> {
  return { schema: z.custom<Awaited<ReturnType<F>>>(), send: json };
}

/** `{}`: it was done, and there is nothing to say. */
export const done: Answer<Record<string, never>> = answers(z.strictObject({}));

/** A text that is a file to keep or to subscribe to. */
export function textFile(type: string): Answer<{ file: string; text: string }> {
  return {
    schema: z.strictObject({ file: z.string(), text: z.string() }),
    send: ({ file, text }) =>
      new Response(text, {
        headers: {
          "content-type": type,
          "content-disposition": `inline; filename*=UTF-8''${encodeURIComponent(file)}`,
          "cache-control": "no-cache",
        },
      }),
  };
}

/** Bytes that a page's worker reads. */
export const bytes: Answer<Uint8Array<ArrayBuffer>> = {
  schema: z.custom<Uint8Array<ArrayBuffer>>((value) => value instanceof Uint8Array),
  send: (value) => new Response(value, { headers: { "content-type": "application/octet-stream", "cache-control": "no-cache" } }),
};

/** A CSV file that is made while it is sent. What is wrong before the first piece is a problem like any other. */
export const csvStream: Answer<{ file: string; pieces: AsyncGenerator<string> }> = {
  schema: z.custom<{ file: string; pieces: AsyncGenerator<string> }>(),
  send: async ({ file, pieces }) => {
    const first = await pieces.next();
    const encoder = new TextEncoder();
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        if (!first.done) controller.enqueue(encoder.encode(first.value));
      },
      async pull(controller) {
        const { done: isOver, value } = await pieces.next();
        if (isOver) controller.close();
        else controller.enqueue(encoder.encode(value));
      },
      cancel: async () => {
        await pieces.return(undefined);
      },
    });
    const disposition = `attachment; filename*=UTF-8''${encodeURIComponent(file)}`;
    return new Response(body, { headers: { "content-type": "text/csv; charset=utf-8", "content-disposition": disposition } });
  },
};

/** An answer of a protocol of its own, as its handler makes it. */
export const asItIs: Answer<Response> = {
  schema: z.custom<Response>((value) => value instanceof Response),
  send: (response) => response,
};
