import { useForm } from "react-hook-form";
import { Link } from "react-router";
import { isUuid } from "#server/commands/fields";
import { sitePrices } from "#server/db/accounts";
import { firmOf } from "#server/db/firms";
import { productsOf } from "#server/db/products";
import { commandAction } from "../../commands";
import { inFirm, notFound, ownerOnly } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { fieldText, typedOr, typedOrNull } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { useMoney } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/prices";

/** What one customer pays. */
export const loader = ({ params, context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope) => {
    const site = isUuid(params.siteId) ? await sitePrices(scope, params.siteId) : undefined;
    if (!site) return notFound();
    const products = await productsOf(scope);
    return {
      siteId: params.siteId,
      site: site.name,
      prices: site.prices,
      visitPrice: (await firmOf(scope)).callPrice,
      products: products.map(({ id, name, pricePerKg }) => ({ id, name, pricePerKg })),
    };
  });
};

export const action = commandAction(["save-prices"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.accounts.pricesTitle} · ${words.product}` }];

interface Fields {
  perVisit: string;
  products: Record<string, string>;
}

const shown = (price: number | null | undefined): string => (price == null ? "" : fieldText(price, 2));

export default function Prices({ loaderData }: Route.ComponentProps) {
  const { siteId, site, prices, visitPrice, products } = loaderData;
  const { dispatch, answer, saved, busy } = useCommand<"save-prices">();
  const money = useMoney();
  const { register, handleSubmit } = useForm<Fields>({
    defaultValues: {
      perVisit: shown(prices.perVisit),
      products: Object.fromEntries(products.map(({ id }) => [id, shown(prices.products[id])])),
    },
  });
  const said = words.accounts;
  const save = ({ perVisit, products: typed }: Fields) =>
    dispatch("save-prices", {
      siteId,
      perVisit: typedOrNull(perVisit),
      products: Object.fromEntries(
        Object.entries(typed).flatMap(([id, text]) => (text.trim() === "" ? [] : [[id, typedOr(text)]])),
      ),
    });
  return (
    <form onSubmit={handleSubmit(save)} className="grid max-w-2xl gap-4" noValidate>
      <header className="grid gap-1">
        <h1 className="text-3xl font-bold tracking-tight">{said.pricesOf({ site })}</h1>
        <p className="text-soft">{said.pricesHint}</p>
      </header>
      <div className="sheet grid gap-3 p-4">
        <Field label={said.visitPrice({ usual: money(visitPrice) })}>
          <input inputMode="decimal" autoComplete="off" {...register("perVisit")} />
        </Field>
        {products.map(({ id, name, pricePerKg }) => (
          <Field
            key={id}
            label={
              pricePerKg === null
                ? said.productPriceNone({ product: name })
                : said.productPrice({ product: name, usual: money(pricePerKg) })
            }
          >
            <input inputMode="decimal" autoComplete="off" {...register(`products.${id}`)} />
          </Field>
        ))}
        <Refused answer={answer} />
        <p className="flex flex-wrap items-center gap-4">
          <Button busy={busy}>{said.save}</Button>
          <Link to="/book/month" className="link min-h-[44px] content-center">
            {said.back}
          </Link>
        </p>
        {saved ? <p role="status">{said.saved}</p> : null}
      </div>
    </form>
  );
}
