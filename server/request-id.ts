import { AsyncLocalStorage } from "node:async_hooks";

/**
 * Which request or job something is done for: said in each line of the log, and by each transaction to the database,
 * where it stands as the name of the application.
 */
const asked = new AsyncLocalStorage<string>();

/** As it may come from a proxy, and as it is made here. */
export const REQUEST_ID = /^[\w-]{6,40}$/;

/** @param id letters, figures, - and _ */
export const asking = <Made>(id: string, work: () => Made): Made => asked.run(id, work);

export const requestId = (): string | undefined => asked.getStore();
