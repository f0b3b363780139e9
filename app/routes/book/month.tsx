import { Link, useNavigate } from "react-router";
import { type Account, type AccountLine, dayIn } from "#core";
import { firmOf } from "#server/db/firms";
import { accountsIn, isMonth } from "#server/exchange/accounts";
import { inFirm, ownerOnly } from "../../context";
import { Field } from "../../ui/field";
import { dayText, massText } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { useMoney } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/month";

/** What each customer owes for a month; this one where the address names none. */
export const loader = ({ request, context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope, _, now) => {
    const asked = new URL(request.url).searchParams.get("month");
    const { timeZone } = await firmOf(scope);
    return accountsIn(scope, isMonth(asked) ? asked : dayIn(now, timeZone).slice(0, 7));
  });
};

export const meta: Route.MetaFunction = () => [{ title: `${words.accounts.title} · ${words.product}` }];

export default function Month({ loaderData: { month, accounts } }: Route.ComponentProps) {
  const navigate = useNavigate();
  const money = useMoney();
  const said = words.accounts;
  const total = accounts.reduce((sum, one) => sum + one.total, 0);
  const unpriced = accounts.reduce((sum, one) => sum + one.unpriced, 0);
  return (
    <div className="grid max-w-4xl gap-4">
      <header className="grid gap-2">
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">{said.hint}</p>
      </header>
      <div className="no-print flex flex-wrap items-end gap-x-5 gap-y-3">
        <Field label={said.month}>
          <input
            type="month"
            value={month}
            onChange={(event) => isWhole(event.target.value) && void navigate(`?month=${event.target.value}`)}
          />
        </Field>
        <a href={`/book/month.csv?month=${month}`} className="link min-h-[44px] content-center">
          {words.book.csv}
        </a>
        <a href={`/book/month.json?month=${month}`} className="link min-h-[44px] content-center">
          {words.book.json}
        </a>
      </div>
      <p className="text-lg">
        {said.whole({ count: accounts.length })} <b>{money(total)}</b>
      </p>
      {unpriced > 0 ? (
        <p role="status" className="border-l-4 border-below bg-below-wash p-3 text-below">
          {said.unpriced({ count: unpriced })}
        </p>
      ) : null}
      {accounts.length === 0 ? <p className="sheet p-4">{said.none}</p> : null}
      {accounts.map((account) => (
        <Customer key={account.siteId} account={account} />
      ))}
    </div>
  );
}

const isWhole = (month: string): boolean => /^\d{4}-\d\d$/.test(month);

function Customer({ account: { siteId, site, visits, lines, total } }: { account: Account }) {
  const money = useMoney();
  const said = words.accounts;
  return (
    <section className="sheet grid gap-2 p-4">
      <header className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-xl font-semibold">{site}</h2>
        <p className="text-xl font-bold">{money(total)}</p>
      </header>
      <p className="flex flex-wrap items-center gap-x-4 text-soft">
        {said.visits({ count: visits })}
        <Link to={`/book/prices/${siteId}`} className="link no-print min-h-[44px] content-center">
          {said.prices}
        </Link>
      </p>
      <details>
        <summary className="link min-h-[44px] w-fit cursor-pointer content-center">
          {said.lines({ count: lines.length })}
        </summary>
        <ul className="divide-y divide-rule">
          {lines.map((line) => (
            <Line key={`${line.visitId} ${line.product}`} line={line} />
          ))}
        </ul>
      </details>
    </section>
  );
}

function Line({ line: { visitId, day, basin, kind, product, quantity, amount } }: { line: AccountLine }) {
  const money = useMoney();
  const units = useUnits();
  const said = words.accounts;
  return (
    <li className="grid grid-cols-[1fr_auto] gap-x-4 py-2">
      <span>
        {kind === "visit" ? (
          <Link to={`/visits/${visitId}`} className="link">
            {said.visit({ day: dayText(day), basin })}
          </Link>
        ) : (
          <span className="pl-4">
            {words.amountOf({ amount: massText(1000 * quantity, units), product })}
          </span>
        )}
      </span>
      <span className={amount === null ? "text-below" : ""}>
        {amount === null ? said.noPrice : money(amount)}
      </span>
    </li>
  );
}
