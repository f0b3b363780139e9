import { type BasinWishes, calledByPlan, dayIn, InputFault, type MemberWeek, type SitePlace } from "#core";
import type { NamedAuthor } from "../author";
import { changesBetween, note } from "../db/audit";
import { basinById } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { firmOf } from "../db/firms";
import { isWorking } from "../db/members";
import { dropCall, followCall, goneTo, putCall, takeDay } from "../db/rounds";
import { setCallDays, setMemberWeek, setPlace, setWishes } from "../db/week";

/** Changes to the week: calls that move, and what it is drawn up from. */

export interface MoveInput {
  id: string;
  /** The versions of the days that these were seen in; a day that nobody had changed is 0. */
  versions: Record<string, number>;
  moves: CallMove[];
  /** The order of whole days, where it was drawn up too. */
  orders: { day: string; basinIds: string[] }[];
}

export interface CallMove {
  basinId: string;
  /** Null for a call that is added. */
  from: string | null;
  /** Null for a call that is taken out of the week. */
  to: string | null;
  /** Who makes it; null for whoever is free. */
  memberId: string | null;
}

/**
 * Moves calls, all of them or none. A day that somebody else changed since it was seen is told, and nothing moves.
 * @throws InputFault "changed" with the day, "too-low" for a day that is over, "unknown" for a basin or a member
 */
export async function moveCalls(
  scope: FirmScope,
  author: NamedAuthor,
  { versions, moves, orders }: MoveInput,
): Promise<void> {
  const { timeZone } = await firmOf(scope);
  const today = dayIn(author.now, timeZone);
  const days = new Set([
    ...moves.flatMap(({ from, to }) => [from, to].filter((day) => day !== null)),
    ...orders.map(({ day }) => day),
  ]);
  // Always in the same order: two who move calls between the same days wait for one another.
  for (const day of [...days].sort()) {
    if (day < today) throw new InputFault("too-low", "day", day, today);
    await takeDay(scope, author.firmId, day, versions[day] ?? 0);
  }
  for (const { basinId, from, to, memberId } of moves) {
    const basin = await basinById(scope, basinId);
    if (!basin) throw new InputFault("unknown", "basinId", basinId);
    if (memberId && !(await isWorking(scope, memberId)))
      throw new InputFault("unknown", "memberId", memberId);
    if (from !== null && from !== to) {
      const isBack = to !== null && (await goneTo(scope, to, basinId)) === from;
      await followCall(scope, basinId, from, to);
      // Undone, it leaves nothing on a day that had none of its own.
      if (isBack && !calledByPlan(basin.calls, from)) await dropCall(scope, from, basinId);
      else
        await putCall(scope, author.firmId, from, {
          basinId,
          gone: { to, by: author.memberId, at: author.now },
        });
    }
    if (to !== null)
      await putCall(scope, author.firmId, to, {
        basinId,
        memberId,
        gone: null,
        // Put back on a day on which it was skipped, it is a call again.
        ...(from === to ? {} : { skipped: null, position: null }),
      });
    if (from !== to)
      await note(scope, author, "call-moved", basinId, {
        name: `${basin.name}: ${from ?? "–"} → ${to ?? "–"}`,
      });
  }
  for (const { day, basinIds } of orders)
    for (const [position, basinId] of basinIds.entries())
      await putCall(scope, author.firmId, day, { basinId, position });
}

/** @throws InputFault "unknown" */
export async function saveWishes(
  scope: FirmScope,
  { basinId, ...wishes }: BasinWishes & { basinId: string },
): Promise<void> {
  if (!(await basinById(scope, basinId))) throw new InputFault("unknown", "basinId", basinId);
  const { least, most } = wishes;
  if (least !== null && most !== null && most < least)
    throw new InputFault("too-low", "mostDays", most, least);
  await setWishes(scope, basinId, wishes);
}

/** Other regular days for a basin. @throws InputFault "unknown" */
export async function changeCallDays(
  scope: FirmScope,
  author: NamedAuthor,
  { basinId, ...rhythm }: { basinId: string; callDays: number[]; everyWeeks: number },
): Promise<void> {
  const basin = await basinById(scope, basinId);
  if (!basin) throw new InputFault("unknown", "basinId", basinId);
  await setCallDays(scope, basinId, rhythm);
  const { callDays, everyWeeks } = basin.calls;
  await note(scope, author, "basin-changed", basinId, {
    name: basin.name,
    changes: changesBetween({ callDays, everyWeeks }, rhythm),
  });
}

/** @throws InputFault "unknown" */
export async function saveMemberWeek(
  scope: FirmScope,
  { memberId, ...week }: MemberWeek & { memberId: string },
): Promise<void> {
  if (!(await setMemberWeek(scope, memberId, week))) throw new InputFault("unknown", "memberId", memberId);
}

/** Where a basin's site lies. @throws InputFault "unknown" */
export async function savePlace(
  scope: FirmScope,
  { basinId, place }: { basinId: string; place: SitePlace | null },
): Promise<void> {
  const basin = await basinById(scope, basinId);
  if (!basin) throw new InputFault("unknown", "basinId", basinId);
  await setPlace(scope, basin.site.id, place);
}
