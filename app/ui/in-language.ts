import { ADDRESSES } from "../messages/compiled/addresses";
import { type Language, speaking, spoken } from "../words";

/**
 * Does some work in another language, whose messages are fetched for it: in what a customer reads, say. In the
 * page's own where there is no such language, or no network to fetch it by.
 */
export async function inLanguage<Made>(name: string | null | undefined, work: () => Made): Promise<Made> {
  const address = name && name !== spoken().language ? ADDRESSES[name] : undefined;
  const other: Language | null = address ? await import(/* @vite-ignore */ address).catch(() => null) : null;
  return other ? speaking(other, work) : work();
}
