import { Link, redirect } from "react-router";
import { everydayAmount, nextStation, placeInRange, productForm, rangeFor } from "#core";
import { readingsOfVisits } from "#server/db/readings";
import { visitById } from "#server/db/visits";
import { uuidSchema } from "#server/visits/schemas";
import { inFirm, notFound } from "../../context";
import { FindingFlag } from "../../ui/finding-flag";
import { amountText, bracket, dateTimeText, unitText, valueText, volumeText } from "../../ui/format";
import { Staff } from "../../ui/staff";
import { useFirm } from "../../ui/use-firm";
import { methodName, purpose, quantityName, words } from "../../words";
import type { Route } from "./+types/sheet";
import { useVisit } from "./use-visit";

/** A visit under way opens at its next test; a finished one is shown whole. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    if (uuidSchema.validate(params.visitId).error) return notFound();
    const visit = await visitById(scope, params.visitId);
    if (!visit) return notFound();
    if (visit.finishedAt) return null;
    const readings = await readingsOfVisits(scope, [visit.id]);
    const next = nextStation(new Set(readings.map((reading) => reading.quantity)));
    throw redirect(`/visits/${visit.id}/${next ?? "judge"}`);
  });

/** A finished visit on one page. */
export default function Sheet() {
  const { visit, basin, kit, rangeSet, readings, findings, doses, products } = useVisit();
  const { units, timeZone } = useFirm();
  const said = words.visit;
  const given = doses.filter((dose) => dose.givenGrams > 0);
  return (
    <article className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
        </h1>
        <p className="text-soft">
          {basin.site.name} · {dateTimeText(visit.startedAt, timeZone)} · {said.by} {visit.memberName} ·{" "}
          {volumeText(visit.litres, units)}
        </p>
      </header>
      <section className="sheet p-4">
        <h2 className="mb-2 text-xl font-semibold">{said.readings}</h2>
        <div className="flex flex-wrap gap-x-2 gap-y-4">
          {readings.map((reading) => {
            const range = rangeFor(rangeSet, reading.quantity, basin.surface);
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
              {readings.map((reading) => (
                <tr key={reading.id}>
                  <td className="py-2 pr-4">{quantityName(reading.quantity)}</td>
                  <td className="pr-4 font-semibold whitespace-nowrap">
                    {valueText(reading.quantity, reading.value, units)} {unitText(reading.quantity, units)}
                  </td>
                  <td className="pr-4 whitespace-nowrap">{bracket(reading.quantity, reading, units)}</td>
                  <td>
                    {methodName(kit, reading.methodId)}
                    {reading.observation.kind === "drops"
                      ? `, ${reading.observation.count} ${said.drops(reading.observation.count)} in ${reading.observation.sample} mL`
                      : ""}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </section>
      <section className="sheet grid gap-2 p-4">
        <h2 className="text-xl font-semibold">{said.findings}</h2>
        <p className="flex flex-wrap gap-2">
          {findings.map((finding) => (
            <FindingFlag key={finding.code} finding={finding} />
          ))}
          {findings.length === 0 ? said.allRight : null}
        </p>
        <p className="text-soft">{said.bySet(rangeSet.name)}</p>
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
                <b>{amountText(everydayAmount(dose.givenGrams, form, units))}</b> {product.name}
                {finding ? `: ${purpose(finding).toLowerCase()}` : ""}{" "}
                <span className="text-soft">
                  ({said.planned} {amountText(everydayAmount(dose.plannedGrams, form, units))})
                </span>
              </li>
            );
          })}
        </ul>
      </section>
      {visit.note ? (
        <section className="sheet p-4">
          <h2 className="mb-1 text-xl font-semibold">{said.note}</h2>
          <p className="whitespace-pre-wrap">{visit.note}</p>
        </section>
      ) : null}
    </article>
  );
}
