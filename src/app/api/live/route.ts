import { asItIs, estate, route } from "@/app/http";
import { listen } from "@/services/admin";

export const dynamic = "force-dynamic";

const KEEP_ALIVE_MS = 25_000;

/** Server-sent events: a line for every change, so that an open page shows it without reloading. */
export const GET = route("look", estate, { input: {}, answer: asItIs }, ({ services, actor, request }) => {
  const encoder = new TextEncoder();
  let close = () => {};
  const stream = new ReadableStream({
    start(controller) {
      const send = (text: string) => controller.enqueue(encoder.encode(text));
      const stopListening = listen(services, actor, (what) => send(`data: ${what}\n\n`));
      const timer = setInterval(() => send(": still here\n\n"), KEEP_ALIVE_MS);
      close = () => {
        stopListening();
        clearInterval(timer);
      };
      request.signal.addEventListener("abort", close);
      send(": open\n\n");
    },
    cancel: () => close(),
  });
  return new Response(stream, { headers: { "content-type": "text/event-stream", "cache-control": "no-store" } });
});
