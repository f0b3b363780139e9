import { type ProductId, storedApart } from "#core";
import { listText, words } from "../words";
import { Pictogram } from "./pictogram";

/** What must ride and stand apart, of what is here; and the first steps at a spill. */
export function KeepApart({ products }: { products: readonly { product: ProductId; name: string }[] }) {
  const groups = storedApart(products).filter(([group]) => group !== "other");
  const said = words.apart;
  if (groups.length === 0) return null;
  return (
    <section className="grid gap-2 border-l-4 border-above p-3" aria-label={said.title}>
      <h3 className="flex items-center gap-2 font-semibold">
        <Pictogram name="no-mixing" size={28} /> {said.title}
      </h3>
      {groups.length > 1 ? <p>{said.danger}</p> : null}
      <ul className="list-inside list-disc">
        {groups.map(([group, own]) => (
          <li key={group}>
            <b>{said.groups[group]}</b>: {listText(own.map(({ name }) => name))}
          </li>
        ))}
      </ul>
      <p>{said.how}</p>
      <details>
        <summary className="min-h-[44px] cursor-pointer content-center">{said.spill}</summary>
        <ol className="list-inside list-decimal">
          {said.spillSteps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
      </details>
    </section>
  );
}
