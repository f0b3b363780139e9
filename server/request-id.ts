import { AsyncLocalStorage } from "node:async_hooks";

/**
 * Which request or job, and which firm, something is done for: said in each line of the log, and by each transaction to the database,
 * where it stands as the name of the application.
 */
interface Asked {
  id: string;
  firm: string | null;
}
const asked = new AsyncLocalStorage<Asked>();

/** As it may come from a proxy, and as it is made here. */
export const REQUEST_ID = /^[\w-]{6,40}$/;

/** @param id letters, figures, - and _ */
export const asking = <Made>(id: string, work: () => Made): Made => asked.run({ id, firm: null }, work);

export const requestId = (): string | undefined => asked.getStore()?.id;

/** The request turned out to be for a firm: what it takes is taken from that one's share. */
export function askedFor(firmId: string): void {
  const request = asked.getStore();
  if (request) request.firm = firmId;
}

export const firmAsking = (): string | null => asked.getStore()?.firm ?? null;
