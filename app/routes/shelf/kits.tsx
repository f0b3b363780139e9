import { type ChangeEvent, useRef, useState } from "react";
import { Link, redirect, useFetcher } from "react-router";
import { v7 as uuid } from "uuid";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { kitsOf, saveKit } from "#server/db/kits";
import { savedKitSchema } from "#server/visits/schemas";
import { inFirm, inFirmOnce, refuse } from "../../context";
import { jsonBody } from "../../request";
import { offlineAware } from "../../ui/offline";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { words } from "../../words";
import type { Route } from "./+types/kits";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => ({ kits: await kitsOf(scope) }));

/** Saves a kit: an edited one as its next version, an imported or new one as its first. */
export async function action({ request, context }: Route.ActionArgs) {
  try {
    const sent = checked(savedKitSchema, await jsonBody(request));
    await inFirmOnce(context, sent.id, ["kit", sent], (scope, author) => saveKit(scope, author, sent));
    return redirect(`/shelf/kits/${sent.id}?saved`);
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

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
              <span className="link text-lg font-semibold">{kit.name}</span>
              <span className="text-soft">
                {said.tests(kit.methods.length)} · {said.version(version)}, {by ? said.by(by) : said.shipped}
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
  const fetcher = useFetcher<SaveAnswer>();
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
    if (kit !== null)
      await fetcher.submit(
        { id: uuid(), line: uuid(), basedOn: null, kit },
        { method: "post", encType: "application/json" },
      );
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
      <Refused answer={fetcher.data} />
    </div>
  );
}
