import { Fragment } from "react";
import { Link, useSearchParams } from "react-router";
import { everydayAmount, placeInRange, productForm, troublesOf } from "#core";
import { noteKey } from "../../device/drafts";
import { BathingBanner } from "../../ui/bathing-banner";
import { AmountFigure, ReadingFigure, VolumeFigure } from "../../ui/figures";
import { FindingFlag } from "../../ui/finding-flag";
import { amountText, bracket, dateTimeText, plain, timeText, weatherText, withUnit } from "../../ui/format";
import { gaugeText } from "../../ui/gauge-text";
import { mapAt } from "../../ui/map-link";
import { Photos } from "../../ui/photos-field";
import { Staff } from "../../ui/staff";
import { useFirm, useMoney } from "../../ui/use-firm";
import { useForgotten } from "../../ui/use-stored";
import {
  doubtText,
  listText,
  methodName,
  purpose,
  quantityName,
  shipped,
  words,
  workName,
} from "../../words";
import { Correction } from "./correction";
import { useVisit } from "./use-visit";

/** A finished visit on one page. */
export default function Sheet() {
  const {
    visit,
    cost,
    basin,
    kit,
    otherKits,
    rangeSet,
    ranges,
    readings,
    beside,
    before,
    findings,
    doses,
    products,
    bathing,
  } = useVisit();
  const kits = [kit, ...otherKits.map((other) => other.kit)];
  const { units, timeZone } = useFirm();
  const money = useMoney();
  const said = words.visit;
  const given = doses.filter((dose) => dose.givenGrams > 0);
  const [asked] = useSearchParams();
  useForgotten(noteKey(visit.id));
  return (
    <article className="grid grid-cols-1 gap-4">
      {asked.get("closed") === "before" ? (
        <p role="status" className="no-print border-l-4 border-below bg-below-wash p-3">
          {said.closedBefore}
        </p>
      ) : null}
      <header>
        <h1 className="text-3xl font-bold tracking-tight">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
        </h1>
        <p className="text-soft">
          {basin.site.name} · {dateTimeText(visit.startedAt, timeZone)}
          {visit.finishedAt ? `–${timeText(visit.finishedAt, timeZone)}` : ""} · {said.by} {visit.memberName}{" "}
          · <VolumeFigure litres={visit.litres} />
        </p>
        <Places />
        <p className="no-print mt-2">
          <Link to={`/visits/${visit.id}/customer`} className="quiet-action">
            {words.customer.open}
          </Link>
        </p>
      </header>
      {visit.untested && bathing.state === "untested" ? null : (
        <BathingBanner bathing={bathing} basin={basin} />
      )}
      <Happened />
      {visit.untested ? (
        <p className="sheet p-4 text-lg font-semibold">
          {words.chores.untested.said({ why: words.chores.untested.whys[visit.untested] })}
        </p>
      ) : null}
      <section className={visit.untested ? "hidden" : "sheet p-4"}>
        <h2 className="mb-2 text-xl font-semibold">{said.readings}</h2>
        <div className="flex flex-wrap gap-x-2 gap-y-4">
          {readings.map((reading) => {
            const range = ranges[reading.quantity];
            return (
              <Staff
                key={reading.id}
                quantity={reading.quantity}
                measured={reading}
                range={range}
                place={placeInRange(reading, range)}
                closes={findings.some((finding) => finding.quantity === reading.quantity && finding.closes)}
              />
            );
          })}
        </div>
        <div className="mt-4 overflow-x-auto">
          <table className="w-full text-left">
            <thead className="text-soft">
              <tr>
                <th className="pr-4 font-medium">{said.test}</th>
                <th className="pr-4 font-medium">{said.value}</th>
                <th className="pr-4 font-medium">{said.bracket}</th>
                <th className="font-medium">{said.how}</th>
              </tr>
            </thead>
            <tbody className="divide-y divide-rule">
              {[...readings, ...beside, ...before].map((reading) => (
                <tr key={reading.id} className={reading.used && !before.includes(reading) ? "" : "text-soft"}>
                  <td className="py-2 pr-4">
                    {quantityName(reading.quantity)}
                    {before.includes(reading)
                      ? ` (${said.beforeDosing})`
                      : reading.used
                        ? ""
                        : ` (${said.beside})`}
                    {reading.late ? ` (${said.late})` : ""}
                  </td>
                  <td className="pr-4 font-semibold whitespace-nowrap">
                    <ReadingFigure quantity={reading.quantity} value={reading.value} bound={reading.bound}>
                      {withUnit(reading.quantity, reading.value, units)}
                    </ReadingFigure>
                  </td>
                  <td className="pr-4 whitespace-nowrap">{bracket(reading.quantity, reading, units)}</td>
                  <td>
                    {methodName(kits, reading.methodId)}
                    {reading.observation.kind === "drops"
                      ? `, ${words.bench.counted({ drops: reading.observation.count, sample: reading.observation.sample })}`
                      : ""}
                    {reading.scatter === undefined
                      ? ""
                      : `, ${said.ownScatter({ percent: plain(100 * reading.scatter, 0) })}`}
                    {reading.doubts.map((doubt) => (
                      <span key={doubt.code} className="block text-sm text-soft">
                        {doubtText(doubt, reading.quantity, units)}
                      </span>
                    ))}
                    <Correction reading={reading} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </section>
      <section className={visit.untested ? "hidden" : "sheet grid gap-2 p-4"}>
        <h2 className="text-xl font-semibold">{said.findings}</h2>
        <p className="flex flex-wrap gap-2">
          {findings.map((finding) => (
            <FindingFlag key={finding.code} finding={finding} />
          ))}
          {findings.length === 0 ? said.allRight : null}
        </p>
        <p className="text-soft">{said.bySet({ name: shipped(rangeSet.name) })}</p>
      </section>
      <section className="sheet grid gap-2 p-4">
        <h2 className="text-xl font-semibold">{said.doses}</h2>
        {given.length === 0 ? <p className="text-soft">{words.basin.nothing}</p> : null}
        <ul>
          {given.map((dose) => {
            const product = products.find((one) => one.id === dose.productId);
            if (!product) return null;
            const form = { ...productForm(product.product), density: product.density };
            const finding = findings.find((one) => one.code === dose.code);
            return (
              <li key={dose.id}>
                <b>
                  <AmountFigure grams={dose.givenGrams} form={form} />
                </b>{" "}
                {product.name}
                {finding ? `: ${purpose(finding)}` : ""}{" "}
                <span className="text-soft">
                  ({said.planned} {amountText(everydayAmount(dose.plannedGrams, form, units))})
                </span>
              </li>
            );
          })}
        </ul>
        {cost !== null && cost > 0 ? <p className="text-soft">{said.cost({ money: money(cost) })}</p> : null}
      </section>
      <OtherWork />
      <Plant />
      <BeforeTests />
      {visit.weather ? <p className="text-soft">{weatherText(visit.weather, units)}</p> : null}
      {visit.note ? (
        <section className="sheet p-4">
          <h2 className="mb-1 text-xl font-semibold">{said.note}</h2>
          <p className="whitespace-pre-wrap">{visit.note}</p>
        </section>
      ) : null}
    </article>
  );
}

/** Where it began and ended, by the device of whoever made it; opens the reader's own map. */
function Places() {
  const { places } = useVisit();
  const said = words.placeMark;
  const marks = (["start", "end"] as const).flatMap((which) => {
    const place = places?.[which];
    return place ? [{ which, ...place }] : [];
  });
  if (marks.length === 0) return null;
  return (
    <p className="no-print flex flex-wrap gap-x-4">
      {marks.map(({ which, latitude, longitude, accuracy }) => (
        <a
          key={which}
          href={mapAt(latitude, longitude)}
          className="link inline-flex min-h-[44px] items-center"
        >
          {said[which]({ meters: accuracy })}
        </a>
      ))}
    </p>
  );
}

/** What happened there beside the water. */
function Happened() {
  const { incidents } = useVisit();
  const { timeZone } = useFirm();
  if (incidents.length === 0) return null;
  const said = words.incidents;
  return (
    <section className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">{said.title}</h2>
      {incidents.map(({ id, kind, at, by, note, over }) => (
        <p key={id}>
          <b>{words.incidentTexts[kind].name}</b>. {said.reported({ by, when: dateTimeText(at, timeZone) })}
          {note ? `: ${note}` : ""}.{" "}
          {over ? said.isOver({ by: over.by, when: dateTimeText(over.at, timeZone), who: over.who }) : ""}
        </p>
      ))}
    </section>
  );
}

/** What was done there besides the water, and what was not and why. */
function OtherWork() {
  const { work } = useVisit();
  const said = words.chores;
  const done = work.filter((one) => one.done?.state === "done");
  const skipped = work.filter((one) => one.done?.state === "skipped");
  if (done.length + skipped.length === 0) return null;
  return (
    <section className="sheet grid gap-1 p-4">
      <h2 className="text-xl font-semibold">{said.doneList}</h2>
      {done.length > 0 ? <p>{listText(done.map(workName))}</p> : null}
      {skipped.map((one) => (
        <p key={one.key} className="text-soft">
          {said.skippedList({ name: workName(one), why: one.done?.why ?? "" })}
        </p>
      ))}
    </section>
  );
}

/** What gauges and displays showed. */
function Plant() {
  const { plant } = useVisit();
  const { units } = useFirm();
  const today = plant.gauges.filter((gauge) => gauge.today !== null);
  if (today.length === 0) return null;
  return (
    <section className="sheet grid gap-1 p-4">
      <h2 className="text-xl font-semibold">{words.gauges.title}</h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-4">
        {today.map(({ kind, today }) => (
          <Fragment key={kind}>
            <dt className="text-soft">{words.gauges.names[kind]}</dt>
            <dd className="font-semibold">{gaugeText(kind, today?.value ?? 0, units)}</dd>
          </Fragment>
        ))}
      </dl>
    </section>
  );
}

/** What the look round found, and what was wrong with the sample, where there was something. */
function BeforeTests() {
  const { visit, photos } = useVisit();
  const { look, sampling } = visit;
  const troubles = troublesOf(look);
  const ignored = sampling?.ignored ?? [];
  if (troubles.length === 0 && !look?.note && ignored.length === 0 && photos.length === 0) return null;
  return (
    <section className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">{words.look.title}</h2>
      {troubles.length > 0 ? (
        <p>{listText(troubles.map((trouble) => words.look.troubles[trouble]))}</p>
      ) : null}
      {look?.note ? <p className="whitespace-pre-wrap">{look.note}</p> : null}
      {ignored.map((problem) => (
        <p key={problem} className="text-below">
          {words.sampling.ignored[problem]}
        </p>
      ))}
      <Photos photos={photos} action={`/visits/${visit.id}/photos`} fixed={visit.finishedAt !== null} />
    </section>
  );
}
