import { useEffect, useState } from "react";
import { Link } from "react-router";
import { DRILLS, type DrillKind, figuresOverWeeks, type Method, type Story } from "#core";
import { Button } from "../../ui/button";
import { dateText } from "../../ui/format";
import { shipped, words } from "../../words";
import { type Kept, type Run, readSheet, type SheetUnderWay, WAYS, type Way } from "./kept";
import { figuresText, Own } from "./score-parts";
import { methodOf, missedOf, ownRuns, TESTS } from "./tests";

interface MenuProps {
  kept: Kept;
  way: Way;
  setWay: (way: Way) => void;
  begin: (method: Method, way: Way, story: Story | null) => void;
  sheet: () => void;
  goOn: (left: SheetUnderWay) => void;
  drill: (kind: DrillKind) => void;
  forget: () => void;
}

/** What to practise, in which way, and how well it goes. */
export function Menu({ kept, way, setWay, begin, sheet, goOn, drill, forget }: MenuProps) {
  const said = words.practice;
  const missed = missedOf(kept);
  const [left, setLeft] = useState<SheetUnderWay | null>(null);
  useEffect(() => setLeft(readSheet()), []);
  return (
    <>
      <p className="max-w-prose text-soft">{said.intro}</p>
      <fieldset className="flex flex-wrap gap-2">
        <legend className="mb-1 font-semibold">{said.how}</legend>
        {WAYS.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={one === way}
            className={`${one === way ? "action" : "quiet-action"} grid! min-h-[64px] justify-start! gap-0! text-left`}
            onClick={() => setWay(one)}
          >
            <span className="font-semibold">{said.ways[one][0]}</span>
            <span className="text-sm">{said.ways[one][1]}</span>
          </button>
        ))}
      </fieldset>
      {missed.length > 0 ? (
        <section className="grid gap-2">
          <h2 className="text-xl font-semibold">{said.next}</h2>
          <div className="flex flex-wrap gap-2">
            {missed.map(({ name }) => {
              const [id = "", story = null] = name.split("/");
              const kind = id === "drill" ? DRILLS.find((one) => one === story) : undefined;
              if (kind)
                return (
                  <Button key={name} type="button" onClick={() => drill(kind)}>
                    {said.drillNames[kind]}
                  </Button>
                );
              if (id === "sheet")
                return (
                  <Button key={name} type="button" onClick={sheet}>
                    {said.nextWhy({ test: said.sheet.title, missed: story !== null })}
                  </Button>
                );
              const method = methodOf(id);
              return method ? (
                <Button
                  key={name}
                  type="button"
                  onClick={() => begin(method, "alone", story as Story | null)}
                >
                  {said.nextWhy({ test: shipped(method.name), missed: story !== null })}
                </Button>
              ) : null;
            })}
          </div>
        </section>
      ) : null}
      <section className="grid gap-2">
        <h2 className="text-xl font-semibold">{said.tests}</h2>
        <div className="grid gap-2 wide:grid-cols-3">
          {TESTS.map((method) => (
            <button
              key={method.id}
              type="button"
              className="quiet-action grid! min-h-[64px] justify-start! gap-0! text-left"
              onClick={() => begin(method, way, null)}
            >
              <span className="font-semibold">{shipped(method.name)}</span>
              <Own method={method} runs={kept.runs} />
            </button>
          ))}
        </div>
        <p className="text-sm text-soft">{said.ownNone}</p>
        <Weeks runs={kept.runs} />
      </section>
      <section className="grid gap-2">
        <h2 className="text-xl font-semibold">{said.sheet.title}</h2>
        <p className="max-w-prose text-soft">{said.sheet.hint}</p>
        <p className="flex flex-wrap gap-2">
          {left ? (
            <Button type="button" onClick={() => goOn(left)}>
              {said.sheet.goOn}
            </Button>
          ) : null}
          <Button type="button" quiet={left !== null} onClick={sheet}>
            {left ? said.sheet.another : said.sheet.begin}
          </Button>
        </p>
      </section>
      <section className="grid gap-2">
        <h2 className="text-xl font-semibold">{said.drills}</h2>
        <p className="text-soft">{said.drillsHint}</p>
        <div className="flex flex-wrap gap-2">
          {DRILLS.map((kind) => (
            <Button key={kind} type="button" quiet onClick={() => drill(kind)}>
              {said.drillNames[kind]}
            </Button>
          ))}
        </div>
      </section>
      {kept.session > 0 ? (
        <p>
          <Link to="/settings/practice" className="link">
            {said.tell}
          </Link>
        </p>
      ) : null}
      {kept.session > 0 ? (
        <button type="button" className="link min-h-[44px] w-fit cursor-pointer" onClick={forget}>
          {said.forget}
        </button>
      ) : null}
    </>
  );
}

/** Bias and scatter over weeks, of each test that has them: whether it gets better. */
function Weeks({ runs }: { runs: readonly Run[] }) {
  const said = words.practice;
  const told = TESTS.flatMap((method) => {
    const dated = ownRuns(runs, method.id).map((run) => ({ ...run, at: new Date(run.at) }));
    const weeks = figuresOverWeeks(dated);
    return weeks.length > 0 ? [{ method, weeks }] : [];
  });
  if (told.length === 0) return null;
  return (
    <details>
      <summary className="min-h-[44px] cursor-pointer py-2">{said.overWeeks}</summary>
      <ul className="grid gap-3">
        {told.map(({ method, weeks }) => (
          <li key={method.id}>
            <b>{shipped(method.name)}</b>
            <ul className="text-soft">
              {weeks.map((one) => (
                <li key={one.to.getTime()}>
                  {dateText(one.from, "UTC")} – {dateText(one.to, "UTC")}: {figuresText(one)}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </details>
  );
}
