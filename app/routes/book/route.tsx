import { useEffect, useRef } from "react";
import { Form, Link, useSearchParams, useSubmit } from "react-router";
import { basinById } from "#server/db/basins";
import { bookPage } from "#server/db/book";
import { dosesOfVisits, findingsOfVisits } from "#server/db/doses";
import { firmOf, membersOf } from "#server/db/firms";
import { inFirmLately, secondsBehind } from "../../context";
import { Empty } from "../../ui/empty";
import { Field } from "../../ui/field";
import { FindingFlag } from "../../ui/finding-flag";
import { dateText, timeText } from "../../ui/format";
import { MayLack } from "../../ui/may-lack";
import { NamedOptions } from "../../ui/options";
import { useFirm } from "../../ui/use-firm";
import { usePlaces } from "../../ui/use-places";
import { placeWord, quantityShort, words } from "../../words";
import type { Route } from "./+types/route";
import { filterFrom, placeFrom, placeText } from "./filter";

const PAGE = 40;

/** A page of the book as its address asks for it. */
export const loader = ({ request, context }: Route.LoaderArgs) =>
  inFirmLately(request, context, async (scope, _, now, asOf) => {
    const asked = new URL(request.url).searchParams;
    const { timeZone } = await firmOf(scope);
    const filter = filterFrom(asked);
    const found = await bookPage(scope, filter, placeFrom(asked), PAGE + 1, timeZone);
    const rows = found.slice(0, PAGE);
    const last = rows.at(-1);
    const ids = rows.map((row) => row.id);
    const findings = await findingsOfVisits(scope, ids);
    const doses = await dosesOfVisits(scope, ids);
    const chosen = filter.basinId === null ? undefined : await basinById(scope, filter.basinId);
    return {
      behind: secondsBehind(asOf, now),
      chosen: chosen ? { id: chosen.id, name: chosen.name, site: chosen.site.name } : null,
      rows: rows.map((row) => ({
        ...row,
        findings: findings.filter((one) => one.visitId === row.id).map((one) => one.finding),
        doses: doses.filter((dose) => dose.visitId === row.id && dose.givenGrams > 0).length,
      })),
      older: found.length > PAGE && last ? placeText(last) : null,
      members: (await membersOf(scope)).map(({ id, name }) => ({ id, name })),
    };
  });

export const meta: Route.MetaFunction = () => [{ title: `${words.book.title} · ${words.product}` }];

const FOUND = [
  "freeChlorine",
  "combinedChlorine",
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
] as const;

/** Every visit of the firm. The address holds what is looked for, so that it can be kept and sent. */
export default function Book({ loaderData: { behind, chosen, rows, older, members } }: Route.ComponentProps) {
  const [asked] = useSearchParams();
  const submit = useSubmit();
  const { timeZone, role } = useFirm();
  const places = usePlaces();
  const basins = places.length > 0 ? places : chosen ? [chosen] : [];
  const list = useWalk();
  const said = words.book;
  const value = (name: string) => asked.get(name) ?? "";
  const filtered = [...asked.keys()].some((name) => name !== "after" && value(name) !== "");
  const next = new URLSearchParams(asked);
  if (older) next.set("after", older);
  return (
    <>
      <h1 className="mb-4 text-3xl font-bold tracking-tight">{said.title}</h1>
      <Form
        key={asked.toString()}
        role="search"
        className="sheet mb-4 grid grid-cols-2 items-end gap-3 p-4 wide:grid-cols-6"
        onChange={(event) => {
          // A choice is looked up at once; text when it is sent.
          if ((event.target as unknown as HTMLInputElement).type !== "search")
            void submit(event.currentTarget);
        }}
      >
        <Field label={said.text} className="col-span-2">
          <input type="search" name="q" defaultValue={value("q")} maxLength={80} />
        </Field>
        <Field label={said.basin}>
          <select name="basin" defaultValue={value("basin")}>
            <option value="">{said.every}</option>
            {basins.map(({ id, name, site }) => (
              <option key={id} value={id}>
                {name}, {site}
              </option>
            ))}
          </select>
        </Field>
        <Field label={said.member}>
          <select name="member" defaultValue={value("member")}>
            <option value="">{said.every}</option>
            <NamedOptions of={members} />
          </select>
        </Field>
        <Field label={said.finding}>
          <select name="finding" defaultValue={value("finding")}>
            <option value="">{said.any}</option>
            {FOUND.flatMap((quantity) =>
              (["low", "high"] as const).map((place) => (
                <option key={quantity + place} value={`${quantity}.${place}`}>
                  {quantityShort(quantity)} {placeWord(place)}
                </option>
              )),
            )}
          </select>
        </Field>
        <button type="submit" className="action">
          {said.look}
        </button>
        <Field label={said.from}>
          <input type="date" name="from" defaultValue={value("from")} />
        </Field>
        <Field label={said.to}>
          <input type="date" name="to" defaultValue={value("to")} />
        </Field>
        <p className="flex flex-wrap col-span-2 gap-x-4 self-center wide:col-span-4">
          {filtered ? (
            <Link to="/book" className="link min-h-[44px] content-center">
              {said.clear}
            </Link>
          ) : null}
          {role === "owner" ? (
            <Link to="/book/month" className="link min-h-[44px] content-center">
              {words.accounts.open}
            </Link>
          ) : null}
          <a href={`/book/export.csv?${asked}`} className="link min-h-[44px] content-center">
            {said.csv}
          </a>
          <a href={`/book/export.json?${asked}`} className="link min-h-[44px] content-center">
            {said.json}
          </a>
          {role === "owner" ? (
            <Link to="/book/import" className="link min-h-[44px] content-center">
              {words.import.title}
            </Link>
          ) : null}
        </p>
      </Form>
      {rows.length > 0 ? null : filtered ? (
        <Empty text={said.nothing}>
          <Link to="/book" className="action">
            {said.clear}
          </Link>
        </Empty>
      ) : (
        <Empty text={said.none}>
          <Link to="/" className="action">
            {words.round.title}
          </Link>
        </Empty>
      )}
      <MayLack seconds={behind} />
      <ul
        ref={list}
        className={rows.length > 0 ? "sheet divide-y divide-rule" : "hidden"}
        aria-label={said.title}
      >
        {rows.map((row) => (
          <li key={row.id}>
            <Link
              to={`/visits/${row.id}`}
              className="grid gap-x-4 gap-y-1 p-3 focus-visible:bg-paper wide:grid-cols-[12rem_15rem_1fr]"
            >
              <span className="font-medium">
                {dateText(row.startedAt, timeZone)}
                <span className="block font-normal whitespace-nowrap">
                  {timeText(row.startedAt, timeZone)}–{timeText(row.finishedAt, timeZone)}
                </span>
                <span className="block text-sm font-normal text-soft">{row.memberName}</span>
              </span>
              <span>
                {row.basinName}
                <span className="block text-sm text-soft">{row.siteName}</span>
              </span>
              <span className="flex flex-wrap items-center gap-2">
                {row.findings.map((finding) => (
                  <FindingFlag key={finding.code} finding={finding} />
                ))}
                {row.untested ? (
                  <span>
                    {words.chores.untested.inBook({ why: words.chores.untested.whys[row.untested] })}
                  </span>
                ) : row.findings.length === 0 ? (
                  <span className="text-soft">{words.basin.inRange}</span>
                ) : null}
                {row.doses > 0 ? (
                  <span className="text-soft">{words.overTime.doses({ count: row.doses })}</span>
                ) : null}
                {row.note ? <span className="w-full text-sm">{row.note}</span> : null}
              </span>
            </Link>
          </li>
        ))}
      </ul>
      {older ? (
        <Link to={`?${next}`} className="quiet-action mt-4">
          {words.basin.older}
        </Link>
      ) : null}
    </>
  );
}

/** Arrows, or J and K, walk from row to row. */
function useWalk() {
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    const walk = (event: KeyboardEvent) => {
      const step = { ArrowDown: 1, j: 1, ArrowUp: -1, k: -1 }[event.key];
      const target = event.target instanceof Element ? event.target : null;
      if (
        !step ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        target?.closest("input, select, [role=dialog]")
      )
        return;
      const rows = [...(list.current?.querySelectorAll("a") ?? [])];
      const here = rows.indexOf(document.activeElement as HTMLAnchorElement);
      const next = rows[here < 0 ? (step > 0 ? 0 : rows.length - 1) : here + step];
      if (!next) return;
      event.preventDefault();
      next.focus();
    };
    window.addEventListener("keydown", walk);
    return () => window.removeEventListener("keydown", walk);
  }, []);
  return list;
}
