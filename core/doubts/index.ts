import type { Doubt } from "../testing/doubt";
import { bleached, persulfate, purple } from "./chlorine";
import { cyanurateShare, indicatorBleached, metals, offScale, sequestered, technique, tube } from "./colours";
import type { TestContext } from "./context";
import { contradictions, farFromExpected, otherSampleSize, unlikelyChange } from "./plausible";
import { reagents } from "./reagents";

const CHECKS: readonly ((context: TestContext) => Doubt[])[] = [
  bleached,
  persulfate,
  purple,
  offScale,
  indicatorBleached,
  cyanurateShare,
  metals,
  sequestered,
  tube,
  technique,
  reagents,
  contradictions,
  otherSampleSize,
  farFromExpected,
  unlikelyChange,
];

/**
 * Everything that speaks against taking a test at its word, from the log and this visit's other
 * tests. Without a result: what to mind while it is prepared. With one: what to say or ask before it
 * is saved. A sample-size slip explains a sudden change, so the two are not both asked.
 * @example doubtsOf(contextFor(opened.log, opened.readings, { method: alkalinity, result: null, seen: null })).length // 0
 */
export function doubtsOf(context: TestContext): Doubt[] {
  const found = CHECKS.flatMap((check) => check(context));
  return found.some((doubt) => doubt.code === "other-sample-size")
    ? found.filter(({ code }) => code !== "unlikely-change" && code !== "far-from-expected")
    : found;
}
