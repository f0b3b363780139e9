import { isRouteErrorResponse, Link } from "react-router";
import { OUT_OF_REACH } from "../device/reach";
import { words } from "../words";

/** The status of what a page met; a fetch that found nobody has none of its own. */
export function statusOf(fault: unknown): number {
  if (isRouteErrorResponse(fault)) return fault.status;
  const isAway =
    typeof window !== "undefined" && fault instanceof TypeError && /fetch|network|load/i.test(fault.message);
  return isAway ? OUT_OF_REACH : 0;
}

function kindOf(status: number): "notFound" | "away" | "outOfReach" | "broken" {
  if (status === 404) return "notFound";
  if (status === 503) return "away";
  return status === OUT_OF_REACH ? "outOfReach" : "broken";
}

/** What stands in for a page that cannot be shown. Counts under way stay on the device. */
export function Trouble({ status, within = false }: { status: number; within?: boolean }) {
  const said = words.trouble[kindOf(status)];
  // Within a page that has its own main part there is no second one.
  const Part = within ? "section" : "main";
  return (
    <Part className="mx-auto grid max-w-xl gap-4 p-6 pt-16">
      <h1 className="text-3xl font-semibold">{said.title}</h1>
      <p>{said.text}</p>
      <p className="flex flex-wrap gap-3">
        <button type="button" className="action" onClick={() => window.location.reload()}>
          {words.trouble.again}
        </button>
        <Link className="quiet-action" to="/">
          {words.round.title}
        </Link>
      </p>
    </Part>
  );
}
