import { spoken, words } from "../../words";

/** What the service worker says where there is nobody to ask; it takes this along with its files. */
export interface Away {
  title: string;
  text: string;
  /** Of the link back to the round. */
  round: string;
  /** A part of the application that could not be fetched. */
  missing: string;
  locale: string;
}

export const loader = () =>
  Response.json({
    ...words.away.page,
    missing: words.away.missing,
    locale: spoken().locale,
  } satisfies Away);
