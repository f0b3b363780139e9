import { type ChangeEvent, useRef, useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { kitsOf } from "#server/db/kits";
import { kitNews } from "#server/shelf/kit-news";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { listText, shipped, words } from "../../words";
import type { Route } from "./+types/kits";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const kits = await kitsOf(scope);
    return { kits, news: kitNews(kits) };
  });

/** Saves a kit: an edited one as its next version, an imported or new one as its first. */
export const action = commandAction(["save-kit"], { "save-kit": ({ id }) => `/shelf/kits/${id}?saved` });

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export default function Kits({ loaderData: { kits, news } }: Route.ComponentProps) {
  const said = words.kits;
  return (
    <div className="grid gap-4">
      <ul className="sheet divide-y divide-rule">
        {kits.map(({ id, kit, version, by }) => (
          <li key={id}>
            <Link
              to={`/shelf/kits/${id}`}
              className="grid min-h-[60px] items-center gap-x-4 p-4 wide:grid-cols-[1fr_auto]"
            >
              <span className="link text-lg font-semibold">{shipped(kit.name)}</span>
              <span className="text-soft">
                {said.tests({ count: kit.methods.length })} · {said.version({ version })},{" "}
                {by ? said.by({ name: by }) : said.shipped}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {news.length > 0 ? <News news={news} /> : null}
      <div className="flex flex-wrap items-center gap-3">
        <Link to="/shelf/kits/new" className="action">
          {said.fresh}
        </Link>
        <ImportKit />
        <a href="/schemas/kit.json" className="link py-3 text-soft">
          {said.schema}
        </a>
      </div>
    </div>
  );
}

/** What ships now and is not in the firm's kits yet. */
function News({ news }: Pick<Route.ComponentProps["loaderData"], "news">) {
  const { dispatch, answer, busy } = useCommand<"save-kit">();
  const said = words.kits;
  const names = (methods: readonly { name: string }[]) => listText(methods.map(({ name }) => shipped(name)));
  return (
    <section className="sheet grid gap-3 p-4" aria-label={said.newsTitle}>
      <h2 className="text-xl font-semibold">{said.newsTitle}</h2>
      <p className="max-w-prose text-soft">{said.newsHint}</p>
      <ul className="divide-y divide-rule">
        {news.map(({ line, basedOn, kit, added, changed }) => (
          <li key={kit.name} className="grid items-center gap-x-4 gap-y-2 py-3 wide:grid-cols-[1fr_auto]">
            <div>
              <p className="text-lg font-semibold">{shipped(kit.name)}</p>
              {added.length > 0 ? <p>{said.newsAdded({ tests: names(added) })}</p> : null}
              {changed.length > 0 ? <p>{said.newsChanged({ tests: names(changed) })}</p> : null}
            </div>
            <Button
              type="button"
              quiet
              busy={busy}
              onClick={() => dispatch("save-kit", { id: uuid(), line: line ?? uuid(), basedOn, kit })}
            >
              {line === null ? said.newsAddKit : said.newsTake}
            </Button>
          </li>
        ))}
      </ul>
      <Refused answer={answer} />
    </section>
  );
}

/** Takes a kit in from a file: checked whole by the server before anything is kept. */
function ImportKit() {
  const { dispatch, answer } = useCommand<"save-kit">();
  const [bad, setBad] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const read = async (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    if (!file) return;
    const kit = await file
      .text()
      .then(JSON.parse)
      .catch(() => null);
    setBad(kit === null);
    if (kit !== null) await dispatch("save-kit", { id: uuid(), line: uuid(), basedOn: null, kit });
    if (input.current) input.current.value = "";
  };
  return (
    <div>
      <label className="quiet-action has-focus-visible:outline-3 has-focus-visible:outline-action">
        {words.kits.import}
        <input ref={input} type="file" accept="application/json,.json" className="sr-only" onChange={read} />
      </label>
      {bad ? (
        <p role="alert" className="text-above">
          {words.kits.badFile}
        </p>
      ) : null}
      <Refused answer={answer} />
    </div>
  );
}
