import { type HiddenWater, InputFault, type Quantity, type SheetVerdict, scoreOf, verdictsOf } from "#core";
import type { SheetTest } from "../kept";
import { methodOf } from "../tests";
import type { Scored, SheetStep } from "./step";

/** What was read and said on a sheet, held against its hidden water. */

/** A test with its score; nothing where what was kept by another build is none any more. */
export function scoredIn(test: SheetTest, water: HiddenWater): Scored[] {
  const method = methodOf(test.methodId);
  if (!method) return [];
  try {
    return [{ test, score: scoreOf({ ...test, method, water }, test) }];
  } catch (fault) {
    if (fault instanceof InputFault) return [];
    throw fault;
  }
}

/** What was read of each quantity. */
export const readBy = (scored: readonly Scored[]): Map<Quantity, Scored> =>
  new Map(
    scored.flatMap((one): [Quantity, Scored][] => {
      const method = methodOf(one.test.methodId);
      return method ? [[method.quantity, one]] : [];
    }),
  );

/** What was said beside what is so; what was set aside is not judged. */
export const verdictsOfSheet = ({
  sheet,
  water,
  basin,
  scored,
}: Pick<SheetStep, "sheet" | "water" | "basin" | "scored">): SheetVerdict[] =>
  verdictsOf(
    water,
    basin,
    Object.fromEntries(
      [...readBy(scored)]
        .filter(([, { test }]) => !test.setAside)
        .map(([quantity, { score }]) => [quantity, score]),
    ),
    sheet.said,
  );
