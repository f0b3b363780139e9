import { Check } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { minutesFor, type VisitWork } from "#core";
import { onServer } from "../../device/action.server";
import { workCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { Button } from "../../ui/button";
import { Refused } from "../../ui/refused";
import { words, workDueText, workName } from "../../words";
import { Gauges } from "./gauges";
import { Repairs } from "./repairs";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

export const action = onServer(workCommand);

export const clientAction = onDevice(workCommand);

/** What is done here besides the water: what is due first, each with one tap. */
export default function WorkPage() {
  const { visit, work } = useVisit();
  const { send, busy, answer } = useSend(`/visits/${visit.id}/work`);
  const said = words.chores;
  const today = work.filter(({ because, done }) => because !== null || done !== null);
  const others = work.filter(({ because, done }) => because === null && done === null);
  const give = (item: VisitWork, state: "done" | "skipped" | "open", why = "") =>
    send({ key: item.key, ...(item.name ? { name: item.name } : {}), state, why });
  return (
    <section aria-label={said.title} className="grid max-w-3xl gap-4">
      <h2 className="text-2xl font-bold">{said.title}</h2>
      {today.length === 0 ? <p className="sheet p-4">{said.nothingDue}</p> : null}
      <ul className={today.length > 0 ? "sheet divide-y divide-rule" : "hidden"}>
        {today.map((item) => (
          <Item key={item.key} item={item} busy={busy} give={give} />
        ))}
      </ul>
      <Refused answer={answer} />
      {others.length > 0 ? (
        <details>
          <summary className="min-h-[44px] cursor-pointer content-center">
            {said.notDue({ count: others.length })}
          </summary>
          <ul className="sheet divide-y divide-rule">
            {others.map((item) => (
              <Item key={item.key} item={item} busy={busy} give={give} />
            ))}
          </ul>
        </details>
      ) : null}
      <Repairs />
      <Gauges />
      <Link to={`/visits/${visit.id}/close`} className="action next-step justify-self-start">
        {words.visit.toClose}
      </Link>
    </section>
  );
}

interface ItemProps {
  item: VisitWork;
  busy: boolean;
  give: (item: VisitWork, state: "done" | "skipped" | "open", why?: string) => void;
}

/** A piece of work: done with one tap, which another takes back; skipped with a reason. */
function Item({ item, busy, give }: ItemProps) {
  const [skipping, setSkipping] = useState(false);
  const said = words.chores;
  const { firm } = useVisit();
  const minutes = Math.max(1, Math.round(minutesFor(item.key, firm.workMinutes ?? null)));
  const name = workName(item);
  const isDone = item.done?.state === "done";
  const isSkipped = item.done?.state === "skipped";
  return (
    <li className="grid gap-x-3 gap-y-1 p-2 pl-3">
      <div className="flex items-center gap-2">
        <span className="min-w-0 grow">
          <span className={`block text-lg font-semibold ${isDone ? "text-soft" : ""}`}>{name}</span>
          <span className="block text-sm text-soft">
            {isSkipped ? said.skippedFor({ why: item.done?.why ?? "" }) : workDueText(item)}
            {item.done ? "" : ` ${said.takes({ minutes })}`}
          </span>
        </span>
        {isDone ? null : (
          <button
            type="button"
            className="link min-h-[48px] min-w-[48px] cursor-pointer"
            aria-label={isSkipped ? said.takeBackOf({ name }) : said.skipOf({ name })}
            aria-expanded={isSkipped ? undefined : skipping}
            disabled={busy}
            onClick={() => (isSkipped ? give(item, "open") : setSkipping(!skipping))}
          >
            {isSkipped ? said.takeBack : said.skip}
          </button>
        )}
        <button
          type="button"
          className={`${isDone ? "action" : "quiet-action"} min-h-[52px] min-w-24 justify-center px-3`}
          aria-pressed={isDone}
          aria-label={said.doneOf({ name })}
          disabled={busy}
          onClick={() => {
            setSkipping(false);
            give(item, isDone ? "open" : "done");
          }}
        >
          {isDone ? <Check size={20} aria-hidden="true" /> : null} {said.done}
        </button>
      </div>
      {skipping && !item.done ? <Why item={item} busy={busy} give={give} /> : null}
    </li>
  );
}

/** Where the next step does not lie over it. */
const intoView = (element: HTMLElement | null) => element?.scrollIntoView({ block: "center" });

function Why({ item, busy, give }: ItemProps) {
  const [own, setOwn] = useState("");
  const said = words.chores;
  return (
    <form
      ref={intoView}
      className="flex flex-wrap items-center gap-2 pb-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (own.trim()) give(item, "skipped", own);
      }}
    >
      <span className="text-soft">{said.why}</span>
      {Object.values(said.whys).map((why) => (
        <Button key={why} type="button" quiet busy={busy} onClick={() => give(item, "skipped", why)}>
          {why}
        </Button>
      ))}
      <input
        aria-label={said.whyOwn}
        placeholder={said.whyOwn}
        maxLength={400}
        value={own}
        onChange={(event) => setOwn(event.target.value)}
        className="min-w-40 grow"
      />
      <Button quiet busy={busy} disabled={own.trim() === ""}>
        {said.skip}
      </Button>
    </form>
  );
}
