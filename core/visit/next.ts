import { methodsAt } from "../testing/order/stations";
import { type Stop, stopAfter, visitSoFar } from "../testing/order/visit-order";
import type { Brought } from "./brought";
import type { TestInput } from "./commands";
import type { OpenedVisit } from "./visit";

/**
 * The stop to go to when a test was saved: the next open one, or the retest while a plan is led through.
 * @example stopAfterTest(brought, opened, { id, methodId: "total-alkalinity", seen: { kind: "drops", count: 1, sample: 25 } }) // "calciumHardness"
 */
export function stopAfterTest(
  { kits, olderKits, visit }: Pick<Brought, "kits" | "olderKits" | "visit">,
  opened: OpenedVisit,
  { kitId = visit.kitId, methodId }: TestInput,
): Stop {
  if (opened.progress) return "retest";
  const kit = [...kits, ...olderKits].find(({ id }) => id === kitId)?.kit;
  const here =
    kit && opened.due.find(({ station }) => methodsAt(kit, station).some(({ id }) => id === methodId));
  return here ? stopAfter(visitSoFar(opened), here.station) : "judge";
}
