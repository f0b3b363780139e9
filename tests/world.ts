import type { Database } from "#server/db/connection";
import type { Addresses } from "../scripts/lib/world.mjs";
import { webServer } from "../scripts/lib/world.mjs";
import { type Client, clientOf } from "./client";
import { newDatabase } from "./database";
import { type Firm, newFirm } from "./firm";

/** Two firms on one database behind the production build, and a client signed in as our technician. */
export interface World {
  db: Database;
  url: string;
  addresses: Addresses;
  ours: Firm;
  theirs: Firm;
  web: Awaited<ReturnType<typeof webServer>>;
  http: Client;
  /** A client of its own, signed in. */
  as(email: string): Promise<Client>;
  close(): Promise<void>;
}

export async function openWorld(environment: Record<string, string> = {}): Promise<World> {
  const { db, url, addresses, close } = await newDatabase();
  const ours = await newFirm(db, "ours");
  const theirs = await newFirm(db, "theirs");
  // One connection: whatever asks for a second while it holds one stands still, and the test with it.
  // And no work of the night beside the tests, but where they are about it.
  const web = await webServer(addresses, { DATABASE_CONNECTIONS: "1", JOBS: "off", ...environment });
  const as = async (email: string) => {
    const client = clientOf(web.address);
    await client.as(email);
    return client;
  };
  return {
    db,
    url,
    addresses,
    ours,
    theirs,
    web,
    http: await as(ours.email),
    as,
    async close() {
      await web.stop();
      await close();
    },
  };
}
