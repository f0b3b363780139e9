import { type Account, accountsOf } from "#core";
import { accountDoses, accountVisits, customerPrices } from "../db/accounts";
import type { FirmScope } from "../db/connection";
import { firmOf } from "../db/firms";

/** A month's accounts, to be looked at and to be taken into a spreadsheet or a bookkeeper's program. */

export interface MonthAccounts {
  month: string;
  currency: string;
  accounts: Account[];
}

/** @param month of the firm's calendar: "2026-05" */
export async function accountsIn(scope: FirmScope, month: string): Promise<MonthAccounts> {
  const { timeZone, currency, callPrice } = await firmOf(scope);
  const visits = await accountVisits(scope, month, timeZone);
  const doses = await accountDoses(
    scope,
    visits.map(({ id }) => id),
  );
  const prices = await customerPrices(scope);
  return { month, currency, accounts: accountsOf({ visits, doses, prices, visitPrice: callPrice }) };
}

export const ACCOUNT_COLUMNS = [
  "customer",
  "basin",
  "day",
  "kind",
  "product",
  "quantity",
  "unit",
  "price",
  "amount",
  "currency",
  "visit",
] as const;

/** A row for each line; a price that nobody wrote down is left empty, and is not zero. */
export const accountRows = ({ accounts, currency }: MonthAccounts): (string | number)[][] =>
  accounts.flatMap(({ site, lines }) =>
    lines.map(({ basin, day, kind, product, quantity, unit, price, amount, visitId }) => [
      site,
      basin,
      day,
      kind,
      product,
      quantity,
      unit,
      price ?? "",
      amount === null ? "" : amount.toFixed(2),
      currency,
      visitId,
    ]),
  );

/** @example isMonth("2026-13") // false */
export const isMonth = (text: string | null | undefined): text is string =>
  /^(19|20)\d\d-(0[1-9]|1[0-2])$/.test(text ?? "");
