import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { ACCOUNTS } from "../../demo/accounts";

/** A request on its way to a cloud, as a rule sees it. `kind` is `act` for what changes something. */
export type Passing = Readonly<{ account: string; kind: "act" | "resources" | "events" | "other"; path: string; body: string }>;

/** What happens to it in place of being passed on and answered. */
export type Fault =
  | Readonly<{ kind: "answer"; status: number; body: string; type?: string }>
  /** Never answered. */
  | Readonly<{ kind: "hang" }>
  | Readonly<{ kind: "slow"; ms: number }>
  /** Passed on, and its answer changed; said to be made so many seconds later. */
  | Readonly<{ kind: "edit"; edit: (body: Record<string, unknown>) => unknown; aheadS?: number }>
  /** Answered as accepted and never passed on. */
  | Readonly<{ kind: "swallow" }>
  /** Passed on and done, and nobody hears of it. */
  | Readonly<{ kind: "deaf" }>
  /** Something happens before it is passed on, or after that and before it is answered. */
  | Readonly<{ kind: "meanwhile"; before?: () => void; after?: () => void }>;

export type Faults = Readonly<{
  url: string;
  /** What to do to each request from now on; nothing where it says nothing. */
  rule: (rule: (passing: Passing) => Fault | undefined) => void;
  close: () => Promise<void>;
}>;

/** A proxy before a stand-in's clouds that does to requests what a rule says. */
export async function startFaults(target: string): Promise<Faults> {
  let rule: (passing: Passing) => Fault | undefined = () => undefined;
  const server = createServer((request, response) => {
    pass(request, response).catch(() => response.destroy());
  });
  async function pass(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const body = await bodyOf(request);
    const fault = rule(passingOf(request, body.toString("utf8")));
    if (fault?.kind === "hang") return;
    if (fault?.kind === "answer") {
      response.writeHead(fault.status, { "content-type": fault.type ?? "application/json" }).end(fault.body);
      return;
    }
    if (fault?.kind === "swallow") {
      response.writeHead(202, { "content-type": "application/json" }).end("{}");
      return;
    }
    if (fault?.kind === "slow") await new Promise((resolve) => setTimeout(resolve, fault.ms));
    if (fault?.kind === "meanwhile") fault.before?.();
    const answer = await forward(target, request, body);
    if (fault?.kind === "meanwhile") fault.after?.();
    if (fault?.kind === "deaf") return void response.destroy();
    const text = fault?.kind === "edit" ? JSON.stringify(fault.edit(JSON.parse(answer.text))) : answer.text;
    const madeAt = Date.parse(answer.date) + (fault?.kind === "edit" ? (fault.aheadS ?? 0) * 1000 : 0);
    response.writeHead(answer.status, { "content-type": answer.type, date: new Date(madeAt).toUTCString() }).end(text);
  }
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    rule: (next) => {
      rule = next;
    },
    close: async () => {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}

function passingOf({ method, url, headers }: IncomingMessage, body: string): Passing {
  const path = url ?? "";
  const account = ACCOUNTS.find(({ key }) => headers.authorization === `Bearer ${key}`)?.name ?? "";
  const [what] = path.split("/").slice(3).join("/").split("?");
  const kind = method === "POST" ? "act" : what === "resources" || what === "events" ? what : "other";
  return { account, kind, path, body };
}

async function bodyOf(request: IncomingMessage): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const part of request) parts.push(part as Buffer);
  return Buffer.concat(parts);
}

async function forward(target: string, { method, url, headers }: IncomingMessage, body: Buffer) {
  const kept = ["authorization", "content-type", "idempotency-key"].flatMap((name) =>
    typeof headers[name] === "string" ? [[name, headers[name]] as const] : [],
  );
  const response = await fetch(`${target}${url}`, {
    method: method ?? "GET",
    headers: Object.fromEntries(kept),
    ...(body.length > 0 ? { body: new Uint8Array(body) } : {}),
  });
  return {
    status: response.status,
    type: response.headers.get("content-type") ?? "application/json",
    date: response.headers.get("date") ?? "",
    text: await response.text(),
  };
}
