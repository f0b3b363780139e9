import { Link } from "react-router";
import { words } from "../words";
import { useFirm } from "./use-firm";

/** What an empty page says: what comes next, with one thing to press first. */
export function FirstSteps() {
  const { role } = useFirm();
  const said = words.setup.first;
  if (role === "reader") return null;
  return (
    <section className="sheet grid max-w-prose gap-3 p-5" aria-label={said.title}>
      <h2 className="text-xl font-semibold">{said.title}</h2>
      <p>{said.basin}</p>
      <Link to="/basins/new" className="action justify-self-start">
        {words.newBasin.title}
      </Link>
      {role === "owner" ? (
        <>
          <p>{said.bring}</p>
          <Link to="/book/import" className="quiet-action justify-self-start">
            {said.import}
          </Link>
        </>
      ) : null}
      <p>{said.practise}</p>
      <Link to="/practice" className="quiet-action justify-self-start">
        {words.practice.title}
      </Link>
    </section>
  );
}
