import {
  type ComponentProps,
  memo,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from "react";
import { Link, useFetcher } from "react-router";
import {
  effectPerGram,
  type PlanProduct,
  productForm,
  type Sample,
  UNIT_SYSTEMS,
  type UnitSystem,
  type WhatIf,
  type WhatIfAnswer,
} from "#core";
import { inFirm, notFound } from "../../context";
import { page } from "../../device/seam";
import { whatIfPage } from "../../pages/basin.server";
import { Button } from "../../ui/button";
import { Empty } from "../../ui/empty";
import { unitText } from "../../ui/format";
import { Outcome, Strip } from "../../ui/outcome";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { StartVisit } from "../../ui/start-visit";
import { submitJson } from "../../ui/submit-json";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { useFirm, useMoney } from "../../ui/use-firm";
import { weighed } from "../../ui/weighed";
import { faultSentence, quantityName, words } from "../../words";
import { openWhatIf, type WhatIfStore } from "../../workers/what-if";
import type { Route } from "./+types/what-if";
import { SliderField } from "./slider-field";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => (await whatIfPage(scope, params.basinId, now)) ?? notFound());

export const clientLoader = ({ params, serverLoader }: Route.ClientLoaderArgs) =>
  page<Data>(serverLoader, `what-if ${params.basinId}`);
clientLoader.hydrate = true as const;

export { stayWhenOffline as shouldRevalidate } from "../../ui/offline";

export const meta: Route.MetaFunction = () => [{ title: `${words.whatIf.title} · ${words.product}` }];

type Data = NonNullable<Awaited<ReturnType<typeof whatIfPage>>>;

export default function WhatIfPage({ loaderData }: Route.ComponentProps) {
  const { basin, open, water } = loaderData;
  const [turn, setTurn] = useState(0);
  const said = words.whatIf;
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">
          <Link to={open ? `/visits/${open}` : `/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
          . {said.hint}
        </p>
      </header>
      {water ? (
        <Bench key={turn} {...loaderData} water={water} reset={() => setTurn(turn + 1)} />
      ) : (
        <Empty text={said.noWater}>
          <StartVisit basinId={basin.id}>{words.basin.start}</StartVisit>
        </Empty>
      )}
    </div>
  );
}

/** What each slider of a reading spans. */
const SPANS = {
  ph: { low: 6.5, high: 8.8, step: 0.05 },
  totalAlkalinity: { low: 10, high: 300, step: 5 },
  calciumHardness: { low: 0, high: 800, step: 10 },
  cyanuricAcid: { low: 0, high: 200, step: 1 },
  freeChlorine: { low: 0, high: 20, step: 0.1 },
  temperature: { low: 5, high: 42, step: 0.5 },
} as const;
type Moved = keyof typeof SPANS;
const MOVED = Object.keys(SPANS) as Moved[];

/** The most that a slider gives of a product, mmol/L of what it moves most. */
const MOST_MOVED = { alkalinity: 2, calcium: 2, cyanurate: 0.4, chlorine: 0.2, borate: 2 } as const;

function mostGrams(product: PlanProduct, litres: number): number {
  const effect = effectPerGram(product);
  const limits = (Object.keys(MOST_MOVED) as (keyof typeof MOST_MOVED)[]).flatMap((total) =>
    effect[total] === 0 ? [] : [(MOST_MOVED[total] * litres) / 1000 / Math.abs(effect[total])],
  );
  return Math.min(...limits);
}

function Bench({
  basin,
  litres,
  open,
  ranges,
  window: limits,
  planned,
  fill,
  water,
  reset,
}: Data & { water: Sample; reset: () => void }) {
  const { units } = useFirm();
  const start = useMemo<WhatIf>(
    () => ({ water, litres, products: planned, fill, grams: {}, replaced: 0, aerated: 0 }),
    [water, litres, planned, fill],
  );
  const asked = useRef(start);
  const [moved, setMoved] = useState(false);
  const [given, setGiven] = useState(false);
  const [store, setStore] = useState<WhatIfStore | null>(null);
  useEffect(() => {
    const opened = openWhatIf(start);
    setStore(opened);
    opened.ask(asked.current);
    return () => opened.close();
  }, [start]);
  const change = useCallback(
    (part: (now: WhatIf) => WhatIf) => {
      asked.current = part(asked.current);
      store?.ask(asked.current);
      const now = asked.current;
      setMoved(MOVED.some((quantity) => now.water[quantity] !== start.water[quantity]));
      setGiven(now.replaced > 0 || now.aerated > 0 || Object.values(now.grams).some((grams) => grams > 0));
    },
    [start, store],
  );
  const read = useCallback(
    (name: string, value: number) => change((now) => ({ ...now, water: { ...now.water, [name]: value } })),
    [change],
  );
  const give = useCallback(
    (name: string, grams: number) => change((now) => ({ ...now, grams: { ...now.grams, [name]: grams } })),
    [change],
  );
  const replace = useCallback(
    (_: string, share: number) => change((now) => ({ ...now, replaced: share / 100 })),
    [change],
  );
  const aerate = useCallback(
    (_: string, value: number) => change((now) => ({ ...now, aerated: value })),
    [change],
  );
  const said = words.whatIf;
  return (
    <div className="grid items-start gap-4 wide:grid-cols-[22rem_1fr]">
      {store ? <Answered store={store} before={water} ranges={ranges} window={limits} strip /> : null}
      <div className="order-3 grid gap-4 wide:order-none">
        <section className="sheet grid gap-3 p-4">
          <h2 className="text-xl font-semibold">{said.water}</h2>
          {MOVED.map((quantity) => (
            <SliderField
              key={quantity}
              name={quantity}
              label={[quantityName(quantity), unitText(quantity, units)].filter(Boolean).join(", ")}
              start={water[quantity]}
              {...spanOf(quantity, units)}
              change={read}
            />
          ))}
        </section>
        <section className="sheet grid gap-3 p-4">
          <h2 className="text-xl font-semibold">{said.amounts}</h2>
          {planned.map((product) => (
            <ProductSlider key={product.key} product={product} litres={litres} units={units} change={give} />
          ))}
          {fill ? (
            <SliderField
              name="replaced"
              label={said.replaced}
              start={0}
              low={0}
              high={100}
              step={1}
              change={replace}
            />
          ) : null}
          <SliderField
            name="aerated"
            label={said.aerated}
            start={0}
            low={0}
            high={1}
            step={0.02}
            change={aerate}
          />
        </section>
      </div>
      <div className="order-2 grid gap-4 wide:sticky wide:top-4 wide:order-none">
        {store ? <Answered store={store} before={water} ranges={ranges} window={limits} /> : null}
        <Save basinId={basin.id} open={open} moved={moved} given={given} asked={() => asked.current} />
        <Button type="button" quiet className="justify-self-start" onClick={reset}>
          {said.reset}
        </Button>
      </div>
    </div>
  );
}

/**
 * What was answered last, drawn by itself; it stays where it is while a slider passes through numbers
 * that make no water.
 */
const Answered = memo(function Answered({
  store,
  strip = false,
  ...rest
}: { store: WhatIfStore; strip?: boolean } & Omit<ComponentProps<typeof Outcome>, "answer">) {
  const reply = useSyncExternalStore(store.subscribe, store.reply, () => null);
  const last = useRef<WhatIfAnswer | null>(null);
  if (reply && "answer" in reply) last.current = reply.answer;
  const units = useUnits();
  const money = useMoney();
  const fault = reply && "fault" in reply ? faultSentence(reply.fault, units) : null;
  if (strip) return last.current ? <Strip answer={last.current} fault={fault} ranges={rest.ranges} /> : null;
  return (
    <>
      {fault ? (
        <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
          {fault}
        </p>
      ) : null}
      {last.current ? <Outcome {...rest} money={money} answer={last.current} /> : null}
    </>
  );
});

/** A span in the firm's unit: only temperature has another. */
function spanOf(quantity: Moved, units: UnitSystem) {
  const span = SPANS[quantity];
  return quantity === "temperature" && UNIT_SYSTEMS[units].heat === "F"
    ? { ...span, shown: FAHRENHEIT }
    : { ...span, shown: undefined };
}
const FAHRENHEIT = {
  from: (celsius: number) => (celsius * 9) / 5 + 32,
  to: (fahrenheit: number) => ((fahrenheit - 32) * 5) / 9,
};

function ProductSlider({
  product,
  litres,
  units,
  change,
}: {
  product: Data["planned"][number];
  litres: number;
  units: UnitSystem;
  change: (name: string, grams: number) => void;
}) {
  const most = useMemo(() => mostGrams(product, litres), [product, litres]);
  const unit = useMemo(() => weighed(productForm(product.product), units, most), [product, units, most]);
  const shown = useMemo(
    () => ({
      from: (grams: number) => unit.fromGrams(grams, product.density),
      to: (amount: number) => unit.toGrams(amount, product.density),
    }),
    [unit, product.density],
  );
  return (
    <SliderField
      name={product.key}
      label={`${product.name}, ${unit.name}`}
      start={0}
      low={0}
      high={most}
      step={most / 100}
      shown={shown}
      change={change}
    />
  );
}

/** Begins the amounts as a plan of the visit under way. */
function Save({
  basinId,
  open,
  moved,
  given,
  asked,
}: {
  basinId: string;
  open: string | null;
  moved: boolean;
  given: boolean;
  asked: () => WhatIf;
}) {
  const fetcher = useFetcher<SaveAnswer>();
  const id = useClientId(`${open}`);
  const said = words.whatIf;
  if (!open)
    return (
      <p className="text-soft">
        <Link to={`/basins/${basinId}`} className="link">
          {said.noVisit}
        </Link>
      </p>
    );
  const save = () => {
    const { grams, replaced, aerated } = asked();
    submitJson(
      fetcher,
      {
        id: id([grams, replaced, aerated]),
        origin: "what-if",
        grams: Object.fromEntries(Object.entries(grams).filter(([, amount]) => amount > 0)),
        replaced,
        aerated,
      },
      `/visits/${open}/plan`,
    );
  };
  return (
    <div className="grid gap-2">
      <p className="text-sm text-soft">{moved ? said.changed : given ? said.saveHint : said.nothing}</p>
      <Refused answer={fetcher.data} />
      <Button
        type="button"
        className="justify-self-start"
        busy={fetcher.state !== "idle"}
        disabled={moved || !given}
        onClick={save}
      >
        {said.save}
      </Button>
    </div>
  );
}
