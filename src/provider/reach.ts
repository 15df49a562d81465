import { lookup as resolve } from "node:dns";
import { request as plain } from "node:http";
import { request as secure } from "node:https";
import { BlockList, isIP, type LookupFunction } from "node:net";
import { ProviderError } from "./port";

/** This machine, its links and nothing: no place to tell anybody, and a way into what listens here alone. */
const HERE = new BlockList();
HERE.addSubnet("127.0.0.0", 8, "ipv4");
HERE.addSubnet("0.0.0.0", 8, "ipv4");
HERE.addSubnet("169.254.0.0", 16, "ipv4");
HERE.addAddress("::1", "ipv6");
HERE.addAddress("::", "ipv6");
HERE.addSubnet("fe80::", 10, "ipv6");
HERE.addSubnet("::ffff:127.0.0.0", 104, "ipv6");
HERE.addSubnet("::ffff:169.254.0.0", 112, "ipv6");

/** It would lead to this machine. */
export class HereError extends Error {}
/** It did not answer in time. */
export class LateError extends Error {}
const LEADS_HERE = "it leads to an address of this machine";

/** True for an address of this machine or its links. */
export function isHere(address: string): boolean {
  return HERE.check(address, isIP(address) === 6 ? "ipv6" : "ipv4");
}

/** Looks a name up, and finds no address of this machine. */
export const lookupElsewhere: LookupFunction = (hostname, options, callback) => {
  resolve(hostname, { ...options, all: true }, (error, addresses) => {
    if (error) return callback(error, "", 4);
    const elsewhere = addresses.filter(({ address }) => !isHere(address));
    const [first] = elsewhere;
    if (!first) return callback(new HereError(LEADS_HERE), "", 4);
    if (options.all) return (callback as unknown as (e: null, all: typeof elsewhere) => void)(null, elsewhere);
    callback(null, first.address, first.family);
  });
};

/** What is asked of somebody else's server, and how much of it is waited for and read. */
export type Asked = Readonly<{
  form: Readonly<Record<string, string>>;
  withinMs: number;
  bytesMax: number;
  /** Whether it may be on this machine. */
  allowsHere: boolean;
}>;

/**
 * Posts a form and reads what is answered, no more than `bytesMax` of it. Redirects are not followed. Throws an Error that
 * says why there is no whole answer; an address of this machine is refused when its name is looked up.
 */
export function postForm(url: string, { form, withinMs, bytesMax, allowsHere }: Asked): Promise<string> {
  const target = new URL(url);
  const host = target.hostname.replace(/^\[|\]$/g, "");
  if (!allowsHere && isIP(host) !== 0 && isHere(host)) return Promise.reject(new HereError(LEADS_HERE));
  const body = new URLSearchParams(form).toString();
  return new Promise((answered, failed) => {
    /** Why it was cut off by us: the connection only says that it was. */
    let why: Error | null = null;
    const cutOff = (error: Error) => {
      why ??= error;
      sent.destroy(error);
    };
    const fail = (error: Error) => failed(why ?? error);
    const headers = { "content-type": "application/x-www-form-urlencoded", "content-length": Buffer.byteLength(body) };
    const lookup = allowsHere ? undefined : lookupElsewhere;
    const sent = (target.protocol === "https:" ? secure : plain)(target, { method: "POST", lookup, headers }, (response) => {
      const parts: Buffer[] = [];
      let size = 0;
      response.on("data", (part: Buffer) => {
        size += part.length;
        if (size > bytesMax) cutOff(new ProviderError(`its answer is larger than ${bytesMax} bytes`));
        else parts.push(part);
      });
      response.on("error", fail);
      response.on("end", () => answered(Buffer.concat(parts).toString("utf8")));
    });
    const limit = setTimeout(() => cutOff(new LateError(`no answer within ${withinMs / 1000} s`)), withinMs);
    sent.on("close", () => clearTimeout(limit));
    sent.on("error", fail);
    sent.end(body);
  });
}
