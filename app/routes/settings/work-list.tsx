import { useState } from "react";
import { useSearchParams } from "react-router";
import { BASIN_KINDS, type BasinKind, WORK_KEYS, type WorkItem, type WorkRule } from "#core";
import { type KeptWorkList, workListsOf } from "#server/db/work";
import { commandAction } from "../../commands";
import { inFirm, memberContext } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { words, workName } from "../../words";
import type { Route } from "./+types/work-list";

export const loader = ({ request, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope) => {
    const asked = new URL(request.url).searchParams.get("kind");
    const kind: BasinKind = BASIN_KINDS.find((one) => one === asked) ?? "pool";
    const kept = (await workListsOf(scope)).get(kind);
    if (!kept) throw new Error(`no list for ${kind}`);
    return { kept, owner: context.get(memberContext).role === "owner" };
  });

export const action = commandAction(["save-work-list"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.chores.lists.title} · ${words.product}` }];

/** What is done at each kind of basin besides the water, and how often. */
export default function WorkListPage({ loaderData: { kept, owner } }: Route.ComponentProps) {
  const [, ask] = useSearchParams();
  const said = words.chores.lists;
  return (
    <div className="grid max-w-3xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="text-soft">{said.hint}</p>
      <Field label={said.kind} className="max-w-xs">
        <select value={kept.kind} onChange={(event) => ask({ kind: event.target.value })}>
          {BASIN_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {words.kinds[kind]}
            </option>
          ))}
        </select>
      </Field>
      <p className="text-soft">
        {kept.by === null ? said.usual : said.version({ version: kept.version, name: kept.by })}
      </p>
      <Editor key={`${kept.kind} ${kept.version}`} kept={kept} owner={owner} />
    </div>
  );
}

/** As it is typed: a number may be half there. */
interface Line {
  key: string;
  name?: string | undefined;
  by: WorkRule["by"];
  number: string;
}

const lineOf = ({ key, name, rule }: WorkItem): Line => ({
  key,
  name,
  by: rule.by,
  number:
    rule.by === "call" || rule.by === "bathers" ? "" : String(rule.by === "days" ? rule.every : rule.times),
});

/** What is no number goes as it was typed: the answer says what is wrong with it. */
function itemOf({ key, name, by, number }: Line): object {
  const typed = number.trim() === "" || Number.isNaN(Number(number)) ? number : Number(number);
  const rule = isPlain(by) ? { by } : by === "days" ? { by, every: typed } : { by, times: typed };
  return { key, ...(name === undefined ? {} : { name: name.trim() }), rule };
}

/** Rules that need no number. */
const isPlain = (by: WorkRule["by"]): boolean => by === "call" || by === "bathers";

function Editor({ kept, owner }: { kept: KeptWorkList; owner: boolean }) {
  const { dispatch, answer, saved, busy } = useCommand<"save-work-list">();
  const [lines, setLines] = useState(() => kept.list.items.map(lineOf));
  const id = useClientId(`${kept.kind}.${kept.version}`);
  const said = words.chores.lists;
  const change = (key: string, to: Partial<Line>) =>
    setLines(lines.map((line) => (line.key === key ? { ...line, ...to } : line)));
  const absent = WORK_KEYS.filter((key) => !lines.some((line) => line.key === key));
  const save = () => {
    const list = { items: lines.map(itemOf) } as unknown as KeptWorkList["list"];
    void dispatch("save-work-list", { id: id(list), kind: kept.kind, basedOn: kept.version, list });
  };
  return (
    <form
      className="grid gap-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      <fieldset disabled={!owner} className="grid gap-4">
        {lines.length === 0 ? <p className="sheet p-4">{said.none}</p> : null}
        <ul className={lines.length > 0 ? "sheet divide-y divide-rule" : "hidden"}>
          {lines.map((line) => (
            <LineFields
              key={line.key}
              line={line}
              change={(to) => change(line.key, to)}
              remove={() => setLines(lines.filter(({ key }) => key !== line.key))}
            />
          ))}
        </ul>
        <div className="flex flex-wrap gap-2">
          {absent.map((key) => (
            <Button
              key={key}
              type="button"
              quiet
              onClick={() =>
                setLines([
                  ...lines,
                  key === "refill" ? { key, by: "bathers", number: "" } : { key, by: "days", number: "7" },
                ])
              }
            >
              + {workName({ key, name: undefined })}
            </Button>
          ))}
          <Button
            type="button"
            quiet
            onClick={() => setLines([...lines, { key: ownKey(lines), name: "", by: "call", number: "" }])}
          >
            + {said.add}
          </Button>
        </div>
        <Refused answer={answer} />
        {saved ? <p role="status">{said.saved}</p> : null}
        {owner ? (
          <Button className="justify-self-start" busy={busy}>
            {said.save}
          </Button>
        ) : (
          <p className="text-soft">{words.settings.ownersOnly}</p>
        )}
      </fieldset>
    </form>
  );
}

/** A key that no other line has, and none had before. */
const ownKey = (lines: readonly Line[]): string =>
  `own-${Date.now().toString(36)}-${lines.filter(({ key }) => key.startsWith("own-")).length}`;

interface LineProps {
  line: Line;
  change: (to: Partial<Line>) => void;
  remove: () => void;
}

function LineFields({ line, change, remove }: LineProps) {
  const said = words.chores.lists;
  const name = workName({ key: line.key, name: line.name }) || said.own;
  return (
    <li className="grid items-end gap-2 p-3 wide:grid-cols-[1fr_14rem_8rem_auto]">
      {line.name === undefined ? (
        <span className="self-center font-semibold">{name}</span>
      ) : (
        <Field label={said.own}>
          <input
            value={line.name}
            maxLength={80}
            onChange={(event) => change({ name: event.target.value })}
          />
        </Field>
      )}
      <Field label={said.rule}>
        <select
          value={line.by}
          aria-label={`${said.rule}: ${name}`}
          onChange={(event) => {
            const by = event.target.value as Line["by"];
            change({ by, number: isPlain(by) ? "" : by === "days" ? "7" : "2" });
          }}
        >
          <option value="call">{said.call}</option>
          {line.key === "refill" ? <option value="bathers">{said.bathers}</option> : null}
          <option value="days">{said.days}</option>
          <option value="season">{said.season}</option>
        </select>
      </Field>
      {isPlain(line.by) ? (
        <span className="hidden wide:block" />
      ) : (
        <Field label={line.by === "days" ? said.every : said.times}>
          <input
            inputMode="numeric"
            value={line.number}
            aria-label={`${line.by === "days" ? said.every : said.times}: ${name}`}
            onChange={(event) => change({ number: event.target.value })}
          />
        </Field>
      )}
      <button
        type="button"
        className="link min-h-[44px] cursor-pointer justify-self-start"
        aria-label={said.remove({ name })}
        onClick={remove}
      >
        {said.remove({ name: "" }).trim()}
      </button>
    </li>
  );
}
