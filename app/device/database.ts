import Dexie, { type EntityTable, type Table } from "dexie";
import type { Brought, CommandName, DeviceStamp, Written } from "#core";
import type { FaultView } from "../fault";

/** What lies on this device: the bundle, the visits, and what waits to be sent. One database a member. */

/** A visit on the device: as the server told it, with what was written here since. */
export interface KeptVisit {
  id: string;
  basinId: string;
  brought: Brought;
  written: Written;
  /** Commands that the server had counted when it last told of it; 0 where it knows nothing of it yet. */
  serverVersion: number;
  /** Where its visit went on under another id, because one was under way at the basin already. */
  becameOf?: string;
}

/** A command that waits to be sent; its place in the order is given by the store. */
export interface Waiting {
  sequence?: number;
  id: string;
  visitId: string;
  name: CommandName | "start";
  given: unknown;
  made: Omit<DeviceStamp, "sequence">;
  /** Of the application that gave it. */
  version: number;
}

/** A command that the server refused, kept until somebody has dealt with it. */
export interface RefusedCommand extends Waiting {
  fault: FaultView;
  refusedAt: Date;
}

/** A piece of the bundle, or a page as it was last seen. */
export interface KeptItem {
  key: string;
  digest: string;
  value: unknown;
  at: Date;
}

/** A photo that waits to be sent. */
export interface KeptPhoto {
  id: string;
  visitId: string;
  blob: Blob;
}

/** Commands of this version are what this build gives; the server takes older ones too. */
export const COMMAND_VERSION = 1;

/** The form of the store that this build knows; a later one is left alone. */
const STORE_VERSION = 1;

const PREFIX = "pelagon ";
export const storeName = (memberId: string): string => PREFIX + memberId;

/** Ids of everybody who has a store in this browser. */
export async function membersHere(): Promise<string[]> {
  const found = (await indexedDB.databases?.()) ?? [];
  return found.flatMap(({ name }) => (name?.startsWith(PREFIX) ? [name.slice(PREFIX.length)] : []));
}

export class DeviceStore extends Dexie {
  visits!: EntityTable<KeptVisit, "id">;
  waiting!: Table<Waiting, number>;
  refused!: EntityTable<RefusedCommand, "id">;
  items!: EntityTable<KeptItem, "key">;
  photos!: EntityTable<KeptPhoto, "id">;
  settings!: Table<{ key: string; value: unknown }, string>;

  constructor(readonly memberId: string) {
    // Strict: what was written is on the disk before anybody is told so.
    super(storeName(memberId), { chromeTransactionDurability: "strict" });
    this.version(STORE_VERSION).stores({
      visits: "id, basinId",
      waiting: "++sequence, &id, visitId",
      refused: "id, visitId",
      items: "key",
      photos: "id, visitId",
      settings: "key",
    });
  }
}

/** Whether a later build has made the store; its version stands in the browser as ten times that. */
export async function isNewer(name: string): Promise<boolean> {
  const found = await indexedDB.databases?.();
  const version = found?.find((one) => one.name === name)?.version ?? 0;
  return Math.floor(version / 10) > STORE_VERSION;
}
