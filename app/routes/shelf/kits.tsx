import { type ChangeEvent, useRef, useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { kitsOf } from "#server/db/kits";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { shipped, words } from "../../words";
import type { Route } from "./+types/kits";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => ({ kits: await kitsOf(scope) }));

/** Saves a kit: an edited one as its next version, an imported or new one as its first. */
export const action = commandAction(["save-kit"], { "save-kit": ({ id }) => `/shelf/kits/${id}?saved` });

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export default function Kits({ loaderData: { kits } }: Route.ComponentProps) {
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

/** Takes a kit in from a file: checked whole by the server before anything is kept. */
function ImportKit() {
  const { give, answer } = useCommand<"save-kit">();
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
    if (kit !== null) await give("save-kit", { id: uuid(), line: uuid(), basedOn: null, kit });
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
