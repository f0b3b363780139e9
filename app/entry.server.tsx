import { Writable } from "node:stream";
import { renderToPipeableStream } from "react-dom/server";
import { type EntryContext, type RouterContextProvider, ServerRouter } from "react-router";
import { requestId } from "#server/request-id";
import { nonceContext } from "./context";
import { log, withoutTokens } from "./log";
import { Nonce } from "./ui/nonce";

export const streamTimeout = 10_000;

/** What broke on the way, for whoever runs the server; a request that its page gave up is no fault. */
export function handleError(fault: unknown, { request }: { request: Request }): void {
  if (!request.signal.aborted)
    log().error({ id: requestId(), fault: withoutTokens(fault) }, "a request broke");
}

/**
 * Renders a page, with the request's nonce on every script. No page has parts that come late, so it is
 * sent whole: handing it on in forty small pieces took as long as drawing it.
 */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  context: RouterContextProvider,
): Promise<Response> {
  const nonce = context.get(nonceContext);
  return new Promise((resolve, reject) => {
    let code = status;
    const { pipe, abort } = renderToPipeableStream(
      <Nonce value={nonce}>
        <ServerRouter context={entry} url={request.url} nonce={nonce} />
      </Nonce>,
      {
        nonce,
        onAllReady() {
          clearTimeout(late);
          headers.set("Content-Type", "text/html; charset=utf-8");
          headers.set("Cache-Control", "no-store");
          pipe(collected((html) => resolve(new Response(html, { headers, status: code }))));
        },
        onShellError(fault) {
          clearTimeout(late);
          reject(fault);
        },
        onError(fault) {
          code = 500;
          log().error({ id: requestId(), fault: withoutTokens(fault) }, "a request broke");
        },
      },
    );
    const late = setTimeout(abort, streamTimeout + 1000);
  });
}

/** A stream that hands on all that was written once it ends. */
function collected(done: (whole: Uint8Array<ArrayBuffer>) => void): Writable {
  const chunks: Buffer[] = [];
  return new Writable({
    write(chunk: Buffer, _, next) {
      chunks.push(chunk);
      next();
    },
    final(next) {
      done(new Uint8Array(Buffer.concat(chunks)));
      next();
    },
  });
}
