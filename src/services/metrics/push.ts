import { createHash } from "node:crypto";
import { identityOf } from "@/core/samples";
import { log } from "@/log";
import { inflated, OtlpError, readPush, refusedWith, taken } from "@/provider/otlp";
import { type MetricSource, noteSource, signal, sourceOfKey } from "@/store";
import type { Services } from "../admin";
import { takePoints } from "./take-points";

/** A request may be no larger as it comes. */
const BODY_MAX = 16_000_000;
/** More at once are asked to come again: each holds its samples in memory. */
const AT_ONCE = 8;
let underWay = 0;

/**
 * Answers a push of metrics (OpenTelemetry protocol 1.x over HTTP: protobuf or JSON, gzip or none, a bearer key). What names no
 * machine is refused as a part; a request that cannot be understood as a whole, or whose key opens nothing, leaves nothing behind.
 */
export async function receivePush(services: Services, request: Request): Promise<Response> {
  const type = request.headers.get("content-type")?.split(";")[0]?.trim().toLowerCase() ?? "";
  const isJson = type === "application/json";
  const { pool } = services;
  const key = /^Bearer +(\S{1,200})$/i.exec(request.headers.get("authorization") ?? "")?.[1];
  if (key === undefined) return refusedWith(401, "a bearer key is needed: authorization: Bearer KEY", isJson);
  if (underWay >= AT_ONCE) return refusedWith(429, "too much at once", isJson);
  underWay++;
  let source: MetricSource | null = null;
  try {
    source = await sourceOfKey(pool, hashOfKey(key));
    if (!source) return refusedWith(401, "that key opens nothing: it was never made, or was revoked", isJson);
    if (source.isPaused) return refusedWith(403, `the source ${source.name} is paused`, isJson);
    if (!isJson && type !== "application/x-protobuf")
      throw new OtlpError(
        415,
        `content-type ${type.slice(0, 60) || "none"}: expected application/x-protobuf or application/json`,
      );
    const body = inflated(await boundedBody(request), request.headers.get("content-encoding"));
    const pushed = readPush(body, isJson);
    const { now } = await services.clock.read();
    const { naming } = source;
    const hosts = pushed.hosts.map((attributes) => ({ identity: identityOf(naming, attributes), attributes }));
    const { refused, why } = await takePoints(services, source, { ...pushed, hosts, now });
    await signal(pool, "sources");
    return taken({ refused, why }, isJson);
  } catch (error) {
    if (error instanceof OtlpError) {
      await note(services, source?.id ?? null, error.message);
      return refusedWith(error.status, error.message, isJson);
    }
    log.error({ err: error }, "a push broke");
    return refusedWith(503, "it could not be stored: send it again", isJson);
  } finally {
    underWay--;
  }
}

/** What a key is kept as: its SHA-256. Keys are long and random, so that no slow hash is needed. */
export function hashOfKey(key: string): Buffer {
  return createHash("sha256").update(key).digest();
}

async function note({ pool, clock }: Services, id: number | null, error: string): Promise<void> {
  if (id === null) return;
  const { now } = await clock.read();
  await noteSource(pool, { id, taken: 0, refused: 0, sampleAt: null, error, at: now });
  await signal(pool, "sources");
}

async function boundedBody(request: Request): Promise<Buffer> {
  const tooLarge = () => new OtlpError(413, `the body is larger than ${BODY_MAX} bytes: send less at once`);
  if (Number(request.headers.get("content-length") ?? 0) > BODY_MAX) throw tooLarge();
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of request.body ?? []) {
    size += (part as Uint8Array).length;
    if (size > BODY_MAX) throw tooLarge();
    parts.push(part as Uint8Array);
  }
  return Buffer.concat(parts);
}
