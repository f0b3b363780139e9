import { v7 as uuid } from "uuid";
import {
  afterCommand,
  type Brought,
  type By,
  type CommandName,
  commandOf,
  decide,
  InputFault,
  NOTHING_WRITTEN,
  seenOf,
  type VisitCommands,
  type Written,
} from "#core";
import { COMMAND_VERSION, type DeviceStore, type KeptVisit, type Waiting } from "./database";
import { kept } from "./items";
import { deviceName } from "./store";

/** Commands given on this device: decided here, written here, and put into the outbox, in one transaction. */

export interface NewCommand<Name extends CommandName = CommandName> {
  id?: unknown;
  name: Name;
  given: VisitCommands[Name];
}

/**
 * Gives a command to a visit that lies here.
 * @returns the visit as it stands then; null when it does not lie here
 * @throws InputFault where it is refused: nothing is written then
 */
export async function enqueue<Name extends CommandName>(
  store: DeviceStore,
  visitId: string,
  { id, name, given }: NewCommand<Name>,
  photo: Blob | null = null,
): Promise<KeptVisit | null> {
  const device = await deviceName(store);
  const by = await memberBy(store);
  const at = new Date();
  const commandId = typeof id === "string" ? id : uuid();
  return store.transaction("rw", [store.visits, store.waiting, store.refused, store.photos], async () => {
    const visit = await store.visits.get(visitId);
    if (!visit || !by) return null;
    // The same once more: a double press, or a page that was shown again.
    if (await store.waiting.where("id").equals(commandId).count()) return visit;
    const facts = decide(visit.brought, visit.written, commandOf(name, given, { id: commandId, by, at }));
    const next = { ...visit, written: afterCommand(visit.written, facts) };
    // Of a count only the newest copy waits: a hundred taps are one thing to send.
    const before = name === "count" ? await dropEarlier(store, visitId, given as VisitCommands["count"]) : 0;
    if (name === "count" && facts.length === 0 && before === 0) return visit;
    await store.waiting.add({
      id: commandId,
      visitId,
      name,
      given,
      made: { device, at, seen: seenOf(visit.written) },
      version: COMMAND_VERSION,
    });
    if (photo) await store.photos.put({ id: commandId, visitId, blob: photo });
    await store.visits.put(next);
    return next;
  });
}

/** Takes earlier copies of a count out of what waits and of what was refused. @returns how many there were */
async function dropEarlier(
  { waiting, refused }: DeviceStore,
  visitId: string,
  { methodId }: VisitCommands["count"],
): Promise<number> {
  const isOf = (one: Waiting) => isCountOf(one, methodId);
  return (
    (await waiting.where("visitId").equals(visitId).filter(isOf).delete()) +
    (await refused.where("visitId").equals(visitId).filter(isOf).delete())
  );
}

/** Whether a command is a copy of this count. */
export const isCountOf = ({ name, given }: Pick<Waiting, "name" | "given">, methodId: string): boolean =>
  name === "count" && (given as VisitCommands["count"]).methodId === methodId;

/**
 * Begins a visit at a basin whose round was taken along; where one is under way here, it is that one.
 * @returns its id; null when nothing of the basin lies here
 */
export async function startOffline(store: DeviceStore, id: string, basinId: string): Promise<string | null> {
  const open = await store.visits
    .where("basinId")
    .equals(basinId)
    .filter(({ written, becameOf }) => written.finishedAt === null && becameOf === undefined)
    .first();
  if (open) return open.id;
  const brought = await broughtOf(store, basinId);
  const by = await memberBy(store);
  if (!brought || !by) return null;
  const device = await deviceName(store);
  const at = new Date();
  const begun: Brought = {
    ...brought,
    visit: { ...brought.visit, id, memberId: by.id, memberName: by.name, startedAt: at },
  };
  const { kitId, rangeSetId, litres } = begun.visit;
  await store.transaction("rw", [store.visits, store.waiting], async () => {
    await store.visits.put({ id, basinId, brought: begun, written: NOTHING_WRITTEN, serverVersion: 0 });
    await store.waiting.add({
      id,
      visitId: id,
      name: "start",
      given: { basinId, kitId, rangeSetId, litres },
      made: { device, at, seen: seenOf(NOTHING_WRITTEN) },
      version: COMMAND_VERSION,
    });
  });
  return id;
}

/** What a call at a basin takes along, out of the bundle. */
async function broughtOf(store: DeviceStore, basinId: string): Promise<Brought | null> {
  const brought = await kept<PackedBrought>(store, `brought ${basinId}`);
  return brought ? unpacked(store, brought) : null;
}

/** As the bundle carries it: kits lie beside. */
export type PackedBrought = Omit<Brought, "kits" | "olderKits"> & { kits: string[]; olderKits: string[] };

export async function unpacked(store: DeviceStore, packed: PackedBrought): Promise<Brought | null> {
  const kits = await kitsOf(store, packed.kits);
  const olderKits = await kitsOf(store, packed.olderKits);
  return kits && olderKits ? { ...packed, kits, olderKits } : null;
}

async function kitsOf(store: DeviceStore, ids: string[]): Promise<Brought["kits"] | null> {
  const found: Brought["kits"] = [];
  for (const id of ids) {
    const kit = await kept<Brought["kits"][number]["kit"]>(store, `kit ${id}`);
    if (!kit) return null;
    found.push({ id, kit });
  }
  return found;
}

/** Whose device this is: what waits here was given by them; null where the server has never told. */
export async function memberBy(store: DeviceStore): Promise<By | null> {
  const home = await kept<{ memberId: string; member: string }>(store, "home");
  return home ? { id: home.memberId, name: home.member } : null;
}

/**
 * A visit as the server tells it with what still waits here put over it. What the server would refuse is
 * left out: it is told when it is sent.
 */
export function withPendingCommands(
  brought: Brought,
  written: Written,
  waiting: readonly { id: string; name: string; given: unknown; made: { at: Date; seen: unknown } }[],
  by: By | null,
): Written {
  // Nothing was given by nobody.
  if (!by) return written;
  return waiting.reduce((standing, { id, name, given, made }) => {
    if (name === "start") return standing;
    try {
      const command = commandOf(name as CommandName, given as never, {
        id,
        by,
        at: made.at,
        seen: made.seen as never,
      });
      return afterCommand(standing, decide(brought, standing, command));
    } catch (fault) {
      if (fault instanceof InputFault) return standing;
      throw fault;
    }
  }, written);
}
