import { parse } from "devalue";
import { useState } from "react";
import { teamOf } from "#server/db/members";
import { inFirm, ownerOnly } from "../../context";
import type { SyncAnswer } from "../../device/take-commands.server";
import { batchesOf, MOST_COMMANDS, readWorkFile, type WorkFile } from "../../device/work-file";
import { Button } from "../../ui/button";
import { dateTimeText } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { faultSentence, words } from "../../words";
import type { Route } from "./+types/work";

export const loader = ({ context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope) => ({
    team: (await teamOf(scope)).map(({ id, name }) => ({ id, name })),
  }));
};

export const meta: Route.MetaFunction = () => [{ title: `${words.work.title} · ${words.product}` }];

type Ended = { state: "ended"; taken: number; faults: { name: string; says: string }[] };
type State = { state: "open" } | { state: "going"; done: number } | Ended | { state: "broke" };

/** An owner takes in a file with the work of somebody who cannot send it: who made it and when stands there first. */
export default function Work({ loaderData: { team } }: Route.ComponentProps) {
  const [file, setFile] = useState<WorkFile | "none" | null>(null);
  const [state, setState] = useState<State>({ state: "open" });
  const { timeZone } = useFirm();
  const said = words.work;
  const choose = async (chosen: File | undefined) => {
    if (!chosen) return;
    setState({ state: "open" });
    setFile(readWorkFile(await chosen.text()) ?? "none");
  };
  const known = file && file !== "none" ? team.find(({ id }) => id === file.member.id) : undefined;
  return (
    <div className="grid max-w-3xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="text-soft">{said.hint}</p>
      <label className="quiet-action justify-self-start has-focus-visible:outline-3 has-focus-visible:outline-action">
        {said.choose}
        <input
          type="file"
          accept=".json"
          className="sr-only"
          onChange={(event) => {
            void choose(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </label>
      {file === "none" ? (
        <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
          {said.none}
        </p>
      ) : null}
      {file && file !== "none" && !known ? (
        <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
          {said.stranger({ name: file.member.name, firm: file.firm })}
        </p>
      ) : null}
      {file && file !== "none" && known ? (
        <section className="sheet grid gap-3 p-4">
          <h2 className="text-xl font-semibold">
            {said.by({ name: known.name, count: file.commands.length })}
          </h2>
          <ul className="divide-y divide-rule">
            {file.commands.map(({ id, name, made }) => (
              <li key={id} className="flex flex-wrap justify-between gap-x-4 py-1">
                <span>{words.store.commands[name]}</span>
                <span className="text-soft">{dateTimeText(new Date(made.at), timeZone)}</span>
              </li>
            ))}
          </ul>
          {state.state === "ended" ? (
            <Outcome ended={state} />
          ) : (
            <>
              {state.state === "broke" ? (
                <p role="alert" className="border-l-4 border-below bg-below-wash p-3 text-below">
                  {said.broke}
                </p>
              ) : null}
              <Button
                type="button"
                className="justify-self-start"
                busy={state.state === "going"}
                onClick={() => void takeIn(file, setState)}
              >
                {state.state === "going"
                  ? said.going({ done: state.done, all: file.commands.length })
                  : said.take({ name: known.name })}
              </Button>
            </>
          )}
        </section>
      ) : null}
    </div>
  );
}

function Outcome({ ended: { taken, faults } }: { ended: Ended }) {
  const said = words.work;
  return (
    <div role="status" className="grid gap-2">
      <p className="font-semibold">{said.taken({ count: taken })}</p>
      {faults.length > 0 ? (
        <>
          <p className="text-above">{said.refused({ count: faults.length })}</p>
          <ul className="text-above">
            {faults.map(({ name, says }, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the list is made once
              <li key={index}>
                {name}: {says}
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </div>
  );
}

/** Sends a file's work batch by batch. Sent again after it broke off, what was taken in is answered as before. */
async function takeIn(file: WorkFile, tell: (state: State) => void): Promise<void> {
  const ended: Ended = { state: "ended", taken: 0, faults: [] };
  let done = 0;
  for (const commands of batchesOf(file, MOST_COMMANDS)) {
    tell({ state: "going", done });
    try {
      const { results } = await sendBatch(file, commands);
      for (const result of results) {
        const name = commands.find(({ id }) => id === result.id)?.name ?? "start";
        if ("fault" in result)
          ended.faults.push({ name: words.store.commands[name], says: faultSentence(result.fault) });
        else ended.taken += 1;
      }
      if (results.length < commands.length) return tell({ state: "broke" });
    } catch {
      return tell({ state: "broke" });
    }
    done += commands.length;
  }
  tell(ended);
}

async function sendBatch(file: WorkFile, commands: WorkFile["commands"]): Promise<SyncAnswer> {
  const form = new FormData();
  form.set("work", JSON.stringify({ maker: file.member.id, commands }));
  const [first] = commands;
  const picture = first && file.photos[first.id];
  if (picture) {
    const bytes = Uint8Array.from(atob(picture), (sign) => sign.charCodeAt(0));
    form.set("photo", new Blob([bytes], { type: "image/jpeg" }), "photo.jpg");
  }
  const answer = await fetch("/settings/work/file", { method: "POST", body: form, redirect: "manual" });
  if (!answer.ok) throw new Error(`${answer.status}`);
  return parse(await answer.text()) as SyncAnswer;
}
