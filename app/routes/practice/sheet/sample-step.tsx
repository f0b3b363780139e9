import { useState } from "react";
import { foundAt, SAMPLE_PLACES, type SamplePlace } from "#core";
import { Button } from "../../../ui/button";
import { hoursText } from "../../../ui/format";
import { words } from "../../../words";
import type { SheetStep } from "./step";

/** What is found at the basin, and how the sample is taken. */
export function SampleStep({ sheet, change }: SheetStep) {
  const said = words.practice.sheet;
  const [place, setPlace] = useState<SamplePlace | null>(null);
  const [isAsked, ask] = useState(false);
  const { circulation, hoursSinceDose } = foundAt(sheet.seed);
  const take = (waited: boolean) => (place ? change({ taken: { place, waited } }) : ask(true));
  return (
    <section aria-label={said.sample} className="grid max-w-2xl gap-4">
      <p className="text-lg">
        {said.found[circulation]}{" "}
        {hoursSinceDose === null ? said.found.none : said.found.dosed({ hours: hoursText(hoursSinceDose) })}
      </p>
      <fieldset className="grid gap-2">
        <legend className="mb-1 font-semibold">{said.where}</legend>
        {ORDER.map((one) => (
          <Button
            key={one}
            type="button"
            quiet={place !== one}
            aria-pressed={place === one}
            className="min-h-[56px] justify-start!"
            onClick={() => setPlace(one)}
          >
            {said.places[one]}
          </Button>
        ))}
      </fieldset>
      {isAsked && !place ? (
        <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
          {said.choosePlace}
        </p>
      ) : null}
      <p className="flex flex-wrap gap-3">
        <Button type="button" onClick={() => take(false)}>
          {said.now}
        </Button>
        <Button type="button" quiet onClick={() => take(true)}>
          {said.waited}
        </Button>
      </p>
    </section>
  );
}

/** The right one does not stand first. */
const ORDER = [...SAMPLE_PLACES].sort((a, b) => b.localeCompare(a));
