import type { FetcherWithComponents } from "react-router";

type Target = Parameters<FetcherWithComponents<unknown>["submit"]>[0];

/**
 * Posts an object as JSON. The router's type of a body leaves out `undefined`, dates and interfaces, all of
 * which JSON writes well.
 * @param action the address; this page's own where it is left out
 */
export const submitJson = <Data>(
  fetcher: FetcherWithComponents<Data>,
  body: object,
  action?: string,
): Promise<void> =>
  fetcher.submit(body as Target, {
    method: "post",
    encType: "application/json",
    ...(action === undefined ? {} : { action }),
  });
