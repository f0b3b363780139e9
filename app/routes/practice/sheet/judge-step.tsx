import { JUDGED, type Judged, PLACES, rangeFor } from "#core";
import { Button } from "../../../ui/button";
import { BOUND_SIGN, bracket, valueText, withUnit } from "../../../ui/format";
import { useUnits } from "../../../ui/units";
import { quantityName, rangeText, words } from "../../../words";
import { readBy } from "./scored";
import type { SheetStep } from "./step";

/** Each reading beside its range, and the water as a whole: low, right or high is for whoever practises to say. */
export function JudgeStep({ sheet, water, basin, scored, change }: SheetStep) {
  const units = useUnits();
  const said = words.practice.sheet;
  const read = readBy(scored);
  const rows = JUDGED.filter((of) => of === "saturation" || read.has(of));
  const say = (of: Judged, place: (typeof PLACES)[number]) =>
    change({ said: { ...sheet.said, [of]: place } });
  return (
    <section aria-label={said.judge} className="grid max-w-3xl gap-3">
      <p className="text-soft">{said.judgeHint}</p>
      {rows.map((of) => {
        const one = of === "saturation" ? undefined : read.get(of);
        const isAside = one?.test.setAside ?? false;
        return (
          <fieldset
            key={of}
            className="sheet grid items-center gap-x-4 gap-y-2 p-3 wide:grid-cols-[1fr_auto]"
          >
            <legend className="sr-only">{of === "saturation" ? said.saturation : quantityName(of)}</legend>
            <span>
              <span className="font-semibold">
                {of === "saturation" ? said.saturation : quantityName(of)}
              </span>{" "}
              {of === "saturation" || !one ? (
                <span className="text-soft">
                  {said.saturationHint}: {withUnit("temperature", Math.round(water.temperature), units)},{" "}
                  {said.solids({ value: String(Math.round(water.totalDissolvedSolids / 50) * 50) })}
                </span>
              ) : (
                <>
                  <b className="text-2xl">
                    {BOUND_SIGN[one.score.reading.bound]}
                    {valueText(of, one.score.reading.value, units)}
                  </b>{" "}
                  <span className="text-soft">
                    {bracket(of, one.score.reading, units)} ·{" "}
                    {said.range({
                      text: rangeText(rangeFor(basin.set, of, basin.surface, water), (value) =>
                        valueText(of, value, units),
                      ),
                    })}
                  </span>
                </>
              )}
            </span>
            {isAside ? (
              <span className="text-soft">{said.setAside}</span>
            ) : (
              <span className="flex flex-wrap gap-2">
                {PLACES.map((place) => (
                  <Button
                    key={place}
                    type="button"
                    quiet={sheet.said[of] !== place}
                    aria-pressed={sheet.said[of] === place}
                    onClick={() => say(of, place)}
                  >
                    {of === "saturation" ? said.saidIndex[place] : said.saidPlace[place]}
                  </Button>
                ))}
              </span>
            )}
          </fieldset>
        );
      })}
      <p className="flex flex-wrap gap-3">
        <Button type="button" className="min-h-[56px]" onClick={() => change({ at: "dose" })}>
          {said.dose}
        </Button>
        <Button type="button" quiet onClick={() => change({ at: "tests" })}>
          {said.backToSheet}
        </Button>
      </p>
    </section>
  );
}
