import type { ReactNode } from "react";
import { everydayAmount, mixesLike, productForm } from "#core";
import type { CustomerSheet } from "#server/visits/customer-sheet";
import { bathingReason, listText, quantityName, rangeText, spoken, words, workName } from "../words";
import {
  amountText,
  BOUND_SIGN,
  dateTimeText,
  dayText,
  moneyText,
  timeText,
  toldLimit,
  valueText,
  withUnit,
} from "./format";
import { Pictogram } from "./pictogram";

/** The sheet in plain words, line by line, in the language spoken: the page and its PDF say the same. */
export function told(sheet: CustomerSheet) {
  const { units, timeZone } = sheet.firm;
  const said = words.customer;
  return {
    firm: sheet.firm.name,
    headings: {
      document: said.title({ basin: sheet.basin.name }),
      swim: said.swimTitle,
      tested: said.tested,
      test: words.visit.test,
      reading: said.reading,
      should: said.should,
      place: words.visit.findings,
      given: said.given,
      givenNone: said.givenNone,
      todo: said.todo,
      work: words.chores.doneList,
      note: said.note,
      photos: said.photos,
      repairs: words.repairs.title,
    },
    locale: spoken().locale,
    title: sheet.basin.name,
    where: sheet.site,
    by: said.by({
      name: sheet.by,
      when: `${dateTimeText(sheet.from, timeZone)}–${timeText(sheet.at, timeZone)}`,
    }),
    swim: swimText(sheet),
    isShut: sheet.bathing.state === "closed" || (sheet.bathing.state === "untested" && !sheet.untested),
    reasons: saidOf(sheet).map((reason) =>
      bathingReason(reason, {
        value: (quantity, value) => withUnit(quantity, value, units),
        limit: (quantity, value) => withUnit(quantity, toldLimit(quantity, value), units),
        name: quantityName,
      }),
    ),
    urgent: sheet.bathing.urgent.map((trouble) => words.safety.urgent[trouble].says),
    readings: sheet.readings.map(({ quantity, value, bound, range, place }) => ({
      name: quantityName(quantity),
      value: `${BOUND_SIGN[bound]}${withUnit(quantity, value, units)}`,
      should: range
        ? rangeText(range, (limit) => valueText(quantity, toldLimit(quantity, limit), units))
        : "",
      place: range ? said.place[place] : "",
      off: place !== "within",
    })),
    given: sheet.given.map(({ name, product, density, grams }) =>
      words.amountOf({
        amount: amountText(everydayAmount(grams, { ...productForm(product), density }, units)),
        product: name,
      }),
    ),
    todo: [said.todoCover, sheet.given.length > 0 ? said.todoPump : said.todoNothing, said.todoCall],
    untested: sheet.untested
      ? words.chores.untested.said({ why: words.chores.untested.whys[sheet.untested] })
      : "",
    work: sheet.work.map(workName),
    note: sheet.note,
    repairs: sheet.repairs.map(({ title, quote }) => ({
      title,
      quote: quote && {
        id: quote.id,
        said: quote.approvedBy
          ? words.repairs.approved({
              amount: moneyText(quote.amount, sheet.firm.currency),
              name: quote.approvedBy,
            })
          : words.repairs.quoted({ amount: moneyText(quote.amount, sheet.firm.currency) }),
        text: quote.text,
        isApproved: quote.approvedAt !== null,
      },
    })),
    photos: sheet.photos,
    photo: said.photo,
    next: sheet.next ? said.next({ day: dayText(sheet.next) }) : "",
    footer: said.footer,
  };
}

/** Why the water is as it is; of a call for something else only what closes it. */
const saidOf = ({ bathing, untested }: CustomerSheet) =>
  untested && bathing.state === "untested" ? [] : bathing.because;

/** Whether the water may be used, in the words that somebody who does just what they read needs. */
function swimText({ basin, bathing: { state, until }, firm: { timeZone }, untested }: CustomerSheet): string {
  const said = words.customer;
  const jets = mixesLike(basin.kind) === "spa" ? ` ${said.swimJets}` : "";
  const mixing = until === null ? "" : ` ${said.swimFrom({ when: dateTimeText(new Date(until), timeZone) })}`;
  switch (state) {
    case "closed":
      return `${said.swimNot}${jets}`;
    case "untested":
      if (untested) return words.chores.untested.swim;
      return `${said.swimUntested}${jets}`;
    case "care":
      return `${said.swimCare}${mixing}`;
    case "mixing":
      return mixing.trim();
    case "open":
      return said.swimNow;
  }
}

export type Told = ReturnType<typeof told>;

/** One page for the customer, on screen and on paper. */
export function Paper({
  text,
  photoAt,
  approve,
}: {
  text: Told;
  /** Address of a photo that was chosen for the customer. */
  photoAt: (id: string) => string;
  /** Beside an offer that waits: where whoever reads it may approve it. */
  approve?: (quoteId: string) => ReactNode;
}) {
  const { headings } = text;
  return (
    <article
      lang={text.locale}
      className="sheet mx-auto grid w-full max-w-3xl gap-5 p-4 wide:p-6 print:border-0 print:p-0"
    >
      <header className="flex flex-wrap items-baseline justify-between gap-x-6 border-b-2 border-ink pb-2">
        <div>
          <p className="font-semibold">{text.firm}</p>
          <h1 className="text-3xl font-bold tracking-tight">{text.title}</h1>
          <p>{text.where}</p>
        </div>
        <p className="text-soft">{text.by}</p>
      </header>
      <section>
        <h2 className="text-xl font-semibold">{headings.swim}</h2>
        <div
          className={
            text.isShut
              ? "flex gap-3 border-l-4 border-above bg-above-wash p-3 text-lg text-above"
              : "flex gap-3 text-lg"
          }
        >
          {text.isShut ? <Pictogram name="keep-out" size={40} /> : null}
          <div>
            <p className={text.isShut ? "font-semibold" : ""}>{text.swim}</p>
            {text.reasons.map((line) => (
              <p key={line}>{line}</p>
            ))}
            {text.urgent.map((line) => (
              <p key={line} className="font-semibold">
                {line}
              </p>
            ))}
          </div>
        </div>
      </section>
      <section>
        <h2 className="mb-1 text-xl font-semibold">{headings.tested}</h2>
        {text.untested ? <p className="font-semibold">{text.untested}</p> : null}
        <table className={text.untested ? "hidden" : "w-full text-left text-sm wide:text-base"}>
          <thead className="text-soft">
            <tr>
              <th className="font-medium">{headings.test}</th>
              <th className="font-medium">{headings.reading}</th>
              <th className="font-medium">{headings.should}</th>
              <th>
                <span className="sr-only">{headings.place}</span>
              </th>
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {text.readings.map((row) => (
              <tr key={row.name}>
                <td className="py-1.5 pr-2">{row.name}</td>
                <td className="pr-2 font-semibold whitespace-nowrap">{row.value}</td>
                <td className="pr-2 text-soft">{row.should}</td>
                <td className={row.off ? "font-semibold" : "text-soft"}>{row.place}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section>
        <h2 className="text-xl font-semibold">{headings.given}</h2>
        {text.given.length === 0 ? <p>{headings.givenNone}</p> : null}
        <ul>
          {text.given.map((line, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the same amount may have been given twice
            <li key={index}>{line}</li>
          ))}
        </ul>
      </section>
      {text.work.length > 0 ? (
        <section>
          <h2 className="text-xl font-semibold">{headings.work}</h2>
          <p>{listText(text.work)}</p>
        </section>
      ) : null}
      <section>
        <h2 className="text-xl font-semibold">{headings.todo}</h2>
        {text.todo.map((line, index) => (
          <p key={line} className="flex gap-2">
            {index === 0 ? <Pictogram name="cover-on" size={28} /> : null}
            {line}
          </p>
        ))}
      </section>
      {text.note ? (
        <section>
          <h2 className="text-xl font-semibold">{headings.note}</h2>
          <p className="whitespace-pre-wrap">{text.note}</p>
        </section>
      ) : null}
      {text.repairs.length > 0 ? (
        <section>
          <h2 className="text-xl font-semibold">{headings.repairs}</h2>
          <ul className="grid gap-3">
            {text.repairs.map(({ title, quote }) => (
              <li key={title + (quote?.id ?? "")}>
                <p className="font-medium">{title}</p>
                {quote ? <p>{quote.said}</p> : null}
                {quote?.text ? <p className="whitespace-pre-wrap">{quote.text}</p> : null}
                {quote && !quote.isApproved ? approve?.(quote.id) : null}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {text.photos.length > 0 ? (
        <section>
          <h2 className="mb-1 text-xl font-semibold">{headings.photos}</h2>
          <div className="grid grid-cols-2 gap-2">
            {text.photos.map((id) => (
              <img
                key={id}
                src={photoAt(id)}
                alt={text.photo}
                loading="lazy"
                className="w-full rounded-sm border border-rule"
              />
            ))}
          </div>
        </section>
      ) : null}
      {text.next ? <p className="text-lg font-semibold">{text.next}</p> : null}
      <footer className="border-t border-rule pt-2 text-sm text-soft">{text.footer}</footer>
    </article>
  );
}
