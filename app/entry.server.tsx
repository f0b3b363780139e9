import { PassThrough } from "node:stream";
import { createReadableStreamFromReadable } from "@react-router/node";
import { isbot } from "isbot";
import { renderToPipeableStream } from "react-dom/server";
import { type EntryContext, type RouterContextProvider, ServerRouter } from "react-router";
import { nonceContext } from "./context";
import { Nonce } from "./ui/nonce";

export const streamTimeout = 10_000;

/** Renders a page to a stream, with the request's nonce on every script. */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  context: RouterContextProvider,
): Promise<Response> {
  const nonce = context.get(nonceContext);
  const whole = isbot(request.headers.get("user-agent") ?? "");
  return new Promise((resolve, reject) => {
    let code = status;
    let begun = false;
    const { pipe, abort } = renderToPipeableStream(
      <Nonce value={nonce}>
        <ServerRouter context={entry} url={request.url} nonce={nonce} />
      </Nonce>,
      {
        nonce,
        [whole ? "onAllReady" : "onShellReady"]() {
          begun = true;
          const body = new PassThrough();
          headers.set("Content-Type", "text/html; charset=utf-8");
          headers.set("Cache-Control", "no-store");
          resolve(new Response(createReadableStreamFromReadable(body), { headers, status: code }));
          pipe(body);
        },
        onShellError: reject,
        onError(fault) {
          code = 500;
          if (begun) console.error(fault);
        },
      },
    );
    setTimeout(abort, streamTimeout + 1000);
  });
}
