import { words } from "../words";

/** What stands in for a page that cannot be shown. Counts under way stay on the device. */
export function Trouble({ status }: { status: number }) {
  const said =
    status === 404 ? words.trouble.notFound : status === 503 ? words.trouble.away : words.trouble.broken;
  return (
    <main className="mx-auto grid max-w-xl gap-4 p-6 pt-16">
      <h1 className="text-3xl font-semibold">{said.title}</h1>
      <p>{said.text}</p>
      <p className="flex flex-wrap gap-3">
        <button type="button" className="action" onClick={() => window.location.reload()}>
          {words.trouble.again}
        </button>
        <a className="quiet-action" href="/">
          {words.round.title}
        </a>
      </p>
    </main>
  );
}
