import { lookup } from "node:dns";
import http from "node:http";
import https from "node:https";
import { isIP, type LookupFunction } from "node:net";
import ipaddr from "ipaddr.js";

/** Hands something to an address that a firm named: never to a machine of our own network, and not for long. */

/** What one telling may take, and what is read of its answer. */
const MOST_MS = 10_000;
const MOST_BYTES = 64 * 1024;

export interface Posted {
  /** Null where there was no answer. */
  status: number | null;
  /** Why it did not come through; empty where it did. */
  why: string;
}

export class NotOutside extends Error {}

/** Whether an address is one of the open network: not private, not loopback, not a link's own. @example isOutside("10.0.0.7") // false */
export function isOutside(address: string): boolean {
  if (!ipaddr.isValid(address)) return false;
  // An IPv4 address in the clothes of an IPv6 one is what it is.
  return ipaddr.process(address).range() === "unicast";
}

/** Looks a name up as always, and refuses what lies inside: the address that is connected to is the one that was looked at. */
const outsideOnly: LookupFunction = (name, options, done) =>
  lookup(name, { ...options, all: true }, (fault, found) => {
    if (fault) return done(fault, "", 0);
    const inside = found.find(({ address }) => !isOutside(address));
    const [first] = found;
    if (inside || !first) return done(Object.assign(new NotOutside("inside"), { code: "INSIDE" }), "", 0);
    if (options.all) return (done as unknown as (fault: null, all: typeof found) => void)(null, found);
    done(null, first.address, first.family);
  });

/**
 * Posts JSON. A redirect is not followed: it is an answer that says no.
 * @param mayBeInside the operator lets firms name machines of the own network
 */
export function postSafely(
  url: string,
  headers: Record<string, string>,
  body: string,
  mayBeInside: boolean,
): Promise<Posted> {
  const { protocol, hostname } = new URL(url);
  const host = hostname.replace(/^\[|\]$/g, "");
  if (!mayBeInside && isIP(host) && !isOutside(host)) return Promise.resolve({ status: null, why: "inside" });
  const client = protocol === "https:" ? https : http;
  return new Promise((resolve) => {
    const end = (posted: Posted) => {
      clearTimeout(clock);
      request.destroy();
      resolve(posted);
    };
    const request = client.request(url, {
      method: "POST",
      agent: false,
      headers: { ...headers, "Content-Length": Buffer.byteLength(body) },
      ...(mayBeInside ? {} : { lookup: outsideOnly }),
    });
    // Of all of it: name, connection, answer and its end.
    const clock = setTimeout(() => end({ status: null, why: "timeout" }), MOST_MS);
    request.on("error", (fault: NodeJS.ErrnoException) =>
      end({ status: null, why: fault instanceof NotOutside ? "inside" : (fault.code ?? "broken") }),
    );
    request.on("response", (answer) => {
      const status = answer.statusCode ?? 0;
      const isTaken = status >= 200 && status < 300;
      let read = 0;
      const done = () => end({ status, why: isTaken ? "" : `${status}` });
      answer.on("data", (part: Buffer) => {
        read += part.length;
        // Whatever else it says, its status has been heard.
        if (read > MOST_BYTES) done();
      });
      answer.on("end", done);
      answer.on("error", done);
    });
    request.end(body);
  });
}
