import { Link } from "react-router";
import { RECIPE_IDS, troublesOf } from "#core";
import { words } from "../../words";
import { useVisit } from "./use-visit";

/** Work that has an order of its own. */
export default function Recipes() {
  const { visit, findings } = useVisit();
  const isGreen = troublesOf(visit.look).some((trouble) => trouble === "green" || trouble === "brown");
  const said = words.recipes;
  const wanted = new Set([
    ...findings.flatMap((finding) => WANTED[finding.code] ?? []),
    ...(isGreen ? (["green-pool"] as const) : []),
  ]);
  const order = [...RECIPE_IDS].sort((a, b) => Number(wanted.has(b)) - Number(wanted.has(a)));
  return (
    <section aria-label={said.title} className="grid gap-4">
      <h2 className="text-2xl font-bold">{said.title}</h2>
      <p className="text-soft">{said.hint}</p>
      <ul className="sheet divide-y divide-rule">
        {order.map((id) => (
          <li key={id} className="flex flex-wrap items-center justify-between gap-3 p-4">
            <span className="min-w-0 flex-1 basis-72">
              <b className="text-lg">{said.names[id]}</b>
              <span className="block text-soft">{said.about[id]}</span>
            </span>
            <Link
              to={`/visits/${visit.id}/recipes/${id}`}
              className={wanted.has(id) ? "action" : "quiet-action"}
              aria-label={`${said.open}: ${said.names[id]}`}
            >
              {said.open}
            </Link>
          </li>
        ))}
        <li className="flex flex-wrap items-center justify-between gap-3 p-4">
          <span className="min-w-0 flex-1 basis-72">
            <b className="text-lg">{words.gauges.bucket}</b>
            <span className="block text-soft">{words.gauges.bucketAbout}</span>
          </span>
          <Link
            to={`/visits/${visit.id}/work#bucket`}
            className="quiet-action"
            aria-label={`${said.open}: ${words.gauges.bucket}`}
          >
            {said.open}
          </Link>
        </li>
      </ul>
      <Link to={`/visits/${visit.id}/dose`} className="link justify-self-start py-3 text-soft">
        {words.visit.doseTitle}
      </Link>
    </section>
  );
}

/** Findings that ask for a recipe. */
const WANTED: Partial<Record<string, (typeof RECIPE_IDS)[number][]>> = {
  "combinedChlorine.high": ["breakpoint", "persulfate"],
  "cyanuricAcid.high": ["lower-stabiliser"],
  "calciumHardness.high": ["lower-calcium"],
  "freeChlorine.high": ["chlorine-too-high"],
};
