import {
  cautionsOf,
  type LabelDoseHere,
  labelCode,
  labelledAt,
  mixesLike,
  productForm,
  type ShelfProduct,
} from "#core";
import { Cautions } from "../../ui/cautions";
import { AmountFigure } from "../../ui/figures";
import { plain, withUnit } from "../../ui/format";
import { stockText } from "../../ui/stock";
import { useFirm, useMoney } from "../../ui/use-firm";
import { weighed } from "../../ui/weighed";
import { fill, productName, words } from "../../words";
import { Given } from "./given";
import { useVisit } from "./use-visit";

/** Minutes for one more pour and what it keeps from the others; a spa turns over between any two. */
const MINUTES_MORE = { pool: 13, spa: 23 } as const;

/** What is dosed by its label: what is due first, and the rest on request. */
export function Labelled({ minutesLeft = null }: { minutesLeft?: number | null }) {
  const opened = useVisit();
  const here = labelledAt(opened);
  const shown = here.filter(({ isDue, given }) => isDue || given !== null);
  const others = here.filter((dose) => !shown.includes(dose));
  const said = words.labelled;
  if (here.length === 0) return null;
  return (
    <section className="grid gap-3" aria-label={said.title}>
      {shown.map((dose) => (
        <Card key={dose.product} dose={dose} minutesLeft={minutesLeft} />
      ))}
      {others.length > 0 ? (
        <details className="sheet p-4">
          <summary className="min-h-[44px] cursor-pointer content-center">{said.others}</summary>
          <div className="grid gap-4 pt-2">
            {others.map((dose) => (
              <Dose key={dose.product} dose={dose} />
            ))}
          </div>
        </details>
      ) : null}
    </section>
  );
}

function Card({ dose, minutesLeft }: { dose: LabelDoseHere; minutesLeft: number | null }) {
  const { basin } = useVisit();
  const more = MINUTES_MORE[mixesLike(basin.kind)];
  const isShort = minutesLeft !== null && minutesLeft < more && dose.given === null;
  return (
    <div className="sheet grid gap-2 p-4">
      <p className="text-sm font-medium text-soft">
        {dose.askedBy === null
          ? words.labelled.due
          : words.labelled.asked({ name: words.quantities[dose.askedBy].inText })}
      </p>
      {isShort ? <p className="font-medium">{words.labelled.noTime({ minutes: more })}</p> : null}
      <Dose dose={dose} />
    </div>
  );
}

/** The dose, how often, what it waits for and what is to be minded; and what was really given. */
function Dose({ dose }: { dose: LabelDoseHere }) {
  const { products, basin } = useVisit();
  const money = useMoney();
  const said = words.labelled;
  const product = products.find(({ id }) => id === dose.product);
  if (!product) return null;
  const form = { ...productForm(product.product), density: product.density };
  const shape = product.density === null ? "solid" : form.form;
  const waits = dose.given ? [] : dose.waits;
  return (
    <div className="grid gap-2">
      <p className="text-3xl font-bold">
        <AmountFigure grams={dose.grams} form={{ ...form, form: shape }} />{" "}
        <span className="text-xl font-medium">{product.name}</span>
      </p>
      <p>
        {said.often({
          every: dose.everyDays,
          last: dose.lastDays === null ? null : Math.round(dose.lastDays),
          cost: product.pricePerKg === null ? null : money((dose.grams / 1000) * product.pricePerKg),
        })}
      </p>
      <WaitsFor waits={waits} product={product} />
      <Cautions
        codes={cautionsOf(product.product, {
          kind: mixesLike(basin.kind),
          indoors: basin.indoors,
          sanitiserFirst: false,
        })}
      />
      <ul className="list-inside list-disc text-soft">
        <li>{said.how}</li>
        {dose.minds.map((code) => (
          <li key={code}>{fill(said.minds[code], { hours: product.label?.apartHours ?? 0 })}</li>
        ))}
      </ul>
      {waits.length > 0 ? (
        <details>
          <summary className="min-h-[44px] cursor-pointer content-center text-soft">{said.anyway}</summary>
          <Form dose={dose} product={product} />
        </details>
      ) : (
        <Form dose={dose} product={product} />
      )}
    </div>
  );
}

const Form = ({ dose, product }: { dose: LabelDoseHere; product: ShelfProduct }) => {
  const { units } = useFirm();
  // What has no density here is weighed.
  const form = {
    form: product.density === null ? ("solid" as const) : productForm(product.product).form,
    density: product.density,
  };
  return (
    <Given
      code={labelCode(product.id)}
      grams={dose.grams}
      product={product}
      given={dose.given ?? undefined}
      unit={weighed(form, units, dose.grams)}
    />
  );
};

function WaitsFor({ waits, product }: { waits: LabelDoseHere["waits"]; product: ShelfProduct }) {
  const { units } = useFirm();
  const said = words.labelled.waits;
  return waits.map((wait) => (
    <p key={wait.code} className="font-medium text-above">
      ◆{" "}
      {wait.code === "fresh-chlorine"
        ? said["fresh-chlorine"]({
            value: withUnit("freeChlorine", wait.value, units),
            limit: withUnit("freeChlorine", wait.limit, units),
          })
        : wait.code === "shock"
          ? said.shock({ hours: plain(Math.ceil(wait.hours), 0) })
          : wait.code === "meets"
            ? said.meets({ other: productName(wait.other), days: Math.ceil(wait.days) })
            : wait.code === "stock"
              ? said.stock({ left: stockText(product, wait.left, units), name: product.name })
              : said[wait.code]}
    </p>
  ));
}
