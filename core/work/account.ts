/** What a customer owes for a month: each visit and each product that went in, at their prices. */

/** What one customer pays. Money in the firm's currency. */
export interface CustomerPrices {
  /** For a visit; null as everybody pays. */
  perVisit: number | null;
  /** For a kilogram as sold, by product; what stands not there costs what it cost the firm. */
  products: Readonly<Record<string, number>>;
}

export const USUAL_PRICES: CustomerPrices = { perVisit: null, products: {} };

export const PRICE_LIMITS = { low: 0, high: 100_000 } as const;

export interface AccountVisit {
  id: string;
  /** Of the firm's calendar, 2026-05-01. */
  day: string;
  siteId: string;
  site: string;
  basin: string;
}

export interface AccountDose {
  visitId: string;
  productId: string;
  product: string;
  grams: number;
  /** What a kilogram cost the firm on that day; null where nobody wrote it down. */
  cost: number | null;
}

export interface AccountLine {
  visitId: string;
  day: string;
  basin: string;
  kind: "visit" | "product";
  /** Of the product; empty for a visit. */
  product: string;
  quantity: number;
  unit: "visit" | "kg";
  /** For one; null where nobody wrote a price down. */
  price: number | null;
  /** In whole cents; null where there is no price. */
  amount: number | null;
}

export interface Account {
  siteId: string;
  site: string;
  visits: number;
  lines: AccountLine[];
  /** Of the lines that have a price. */
  total: number;
  /** Lines without a price. */
  unpriced: number;
}

/** Money in whole cents, halves up; binary fractions do not count. @example inCents(1.005) // 1.01 */
export const inCents = (money: number): number => Math.round(money * 100 + NO_FRACTION) / 100;
const NO_FRACTION = 1e-6;

/**
 * Accounts of a month by customer, in the order of their names.
 * @param doses those of one product at one visit are one line
 * @param prices by site
 * @param visitPrice what everybody pays for a visit
 * @example accountsOf({ visits: [], doses: [], prices: new Map(), visitPrice: 30 }) // []
 */
export function accountsOf({
  visits,
  doses,
  prices,
  visitPrice,
}: {
  visits: readonly AccountVisit[];
  doses: readonly AccountDose[];
  prices: ReadonlyMap<string, CustomerPrices>;
  visitPrice: number;
}): Account[] {
  const bySite = new Map<string, AccountVisit[]>();
  for (const visit of visits) bySite.set(visit.siteId, [...(bySite.get(visit.siteId) ?? []), visit]);
  const accounts = [...bySite].map(([siteId, own]): Account => {
    const pays = prices.get(siteId) ?? USUAL_PRICES;
    const lines = own.flatMap((visit): AccountLine[] => {
      const at = { visitId: visit.id, day: visit.day, basin: visit.basin };
      const price = pays.perVisit ?? visitPrice;
      return [
        { ...at, kind: "visit", product: "", quantity: 1, unit: "visit", price, amount: inCents(price) },
        ...productsIn(doses, visit.id).map(({ productId, product, grams, cost }): AccountLine => {
          const perKg = pays.products[productId] ?? cost;
          // A gram is finer than anybody weighs: what is written is what is multiplied.
          const quantity = Math.round(grams) / 1000;
          return {
            ...at,
            kind: "product",
            product,
            quantity,
            unit: "kg",
            price: perKg,
            amount: perKg === null ? null : inCents(quantity * perKg),
          };
        }),
      ];
    });
    return {
      siteId,
      site: own[0]?.site ?? "",
      visits: own.length,
      lines,
      total: inCents(lines.reduce((sum, { amount }) => sum + (amount ?? 0), 0)),
      unpriced: lines.filter(({ amount }) => amount === null).length,
    };
  });
  return accounts.sort((a, b) => a.site.localeCompare(b.site) || a.siteId.localeCompare(b.siteId));
}

/** What went in at a visit, a product once. */
function productsIn(doses: readonly AccountDose[], visitId: string): AccountDose[] {
  const found = new Map<string, AccountDose>();
  for (const dose of doses) {
    if (dose.visitId !== visitId || dose.grams <= 0) continue;
    const key = `${dose.productId} ${dose.cost}`;
    const before = found.get(key);
    found.set(key, before ? { ...before, grams: before.grams + dose.grams } : dose);
  }
  return [...found.values()];
}
