import { Check, OctagonX, Plus } from "lucide-react";
import {
  Fragment,
  type MouseEvent,
  memo,
  type ReactNode,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import {
  Link,
  Outlet,
  redirect,
  type ShouldRevalidateFunctionArgs,
  useLocation,
  useNavigate,
} from "react-router";
import {
  isStation,
  judge,
  nextStop,
  type OpenedVisit,
  openJobs,
  placeInRange,
  type Stop,
  type StopState,
  stopsOf,
  troublesOf,
  visitOf,
  visitSoFar,
  type Written,
} from "#core";
import { isUuid } from "#server/commands/fields";
import { costOfVisit } from "#server/db/series";
import { readVisit } from "#server/db/visit-record";
import { inFirm, notFound } from "../../context";
import type { KeptVisit } from "../../device/database";
import { draftCounts } from "../../device/drafts";
import { keepCount, visitPage, wroteHere } from "../../device/seam";
import { isStop, isWholeVisit } from "../../device/visit-address";
import { agoShort, BOUND_SIGN, valueText } from "../../ui/format";
import { GettingIn } from "../../ui/getting-in";
import { useUnits } from "../../ui/units";
import { placeWord, stopName, words } from "../../words";
import type { Route } from "./+types/layout";
import { type ShownVisit, VisitContext } from "./use-visit";

/** Everything of the visit in one read; its stops share it. One under way opens at its next stop. */
export const loader = ({ params, context, request }: Route.LoaderArgs) =>
  inFirm(context, async (scope, { memberId }, now) => {
    if (!isUuid(params.visitId)) return notFound();
    if (!isStop(params)) return notFound();
    const record = await readVisit(scope, { id: params.visitId, memberId }, now);
    if (!record) return notFound();
    const { brought, written } = record;
    const { id } = brought.visit;
    const { finishedAt } = written;
    if (isWholeVisit(request.url) && !finishedAt)
      throw redirect(`/visits/${id}/${nextStop(visitSoFar(visitOf(brought, written, now)))}`);
    return { brought, written, cost: finishedAt ? await costOfVisit(scope, id) : null, now };
  });

export const clientLoader = (args: Route.ClientLoaderArgs) => visitPage(args);
clientLoader.hydrate = true as const;

/** Its stops share what it told: only another visit asks again, and what the server itself wrote. */
export const shouldRevalidate = ({
  currentParams,
  nextParams,
  formMethod,
  currentUrl,
  nextUrl,
  defaultShouldRevalidate,
}: ShouldRevalidateFunctionArgs) =>
  currentParams.visitId !== nextParams.visitId ||
  (formMethod === undefined ? currentUrl.href === nextUrl.href : !wroteHere())
    ? defaultShouldRevalidate
    : false;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.brought.basin.name ?? words.visit.sheet} · ${words.product}` },
];

export default function Visit({ loaderData }: Route.ComponentProps) {
  const { brought, written, counts } = useLatest(loaderData);
  const { cost, now } = loaderData;
  const judged = useMemo(() => {
    const opened = visitOf(brought, written, now);
    return {
      ...opened,
      ...judge(opened),
      soFar: visitSoFar(opened),
      cost: cost ?? costOf(opened),
      now,
    };
  }, [brought, written, cost, now]);
  // A drop is no reason to judge the water anew.
  const shown = useMemo(() => ({ ...judged, counts }), [judged, counts]);
  const { basin, visit } = shown;
  useDraftCounts(visit.id, counts);
  return (
    <VisitContext value={shown}>
      {visit.finishedAt ? <Outlet /> : <UnderWay basin={basin} shown={shown} />}
    </VisitContext>
  );
}

/** What the doses cost by the prices that were brought; the server goes by those of the day. */
const costOf = ({ doses, products }: OpenedVisit): number =>
  doses.reduce((sum, { productId, givenGrams }) => {
    const price = products.find(({ id }) => id === productId)?.pricePerKg ?? 0;
    return sum + (givenGrams / 1000) * price;
  }, 0);

type Told = Pick<KeptVisit, "brought" | "written">;

/** What was loaded, or what lies on this device where that is the later; and its counts, which change with every drop. */
function useLatest(told: Told): Told & Pick<Written, "counts"> {
  const [here, setHere] = useState<(Told & Pick<Written, "counts">) | null>(null);
  const { id } = told.brought.visit;
  useEffect(() => {
    let stop = () => {};
    let gone = false;
    void import("../../device/watch").then(({ watchVisit }) => {
      if (gone) return;
      stop = watchVisit(id, ({ brought, written }) => {
        const { counts } = written;
        setHere((before) =>
          before && isSameButCounts(before, { brought, written })
            ? { ...before, counts }
            : { brought, written, counts },
        );
      });
    });
    return () => {
      gone = true;
      stop();
    };
  }, [id]);
  const isLater = here?.brought.visit.id === id && here.written.version >= told.written.version;
  return isLater && here ? here : { ...told, counts: told.written.counts };
}

/** Drops that were on a page when it went, a moment before they were handed on: they are handed on now. */
function useDraftCounts(visitId: string, counts: Written["counts"]): void {
  const atFirst = useRef(counts);
  useEffect(() => {
    for (const { countId, state } of draftCounts(visitId))
      if (state.sequence > (atFirst.current[countId]?.sequence ?? 0))
        void keepCount(visitId, { methodId: countId, ...state });
  }, [visitId]);
}

const isSameButCounts = (one: Told, other: Told): boolean => {
  const text = ({ brought, written }: Told) => JSON.stringify([brought, { ...written, counts: null }]);
  return text(one) === text(other);
};

const UnderWay = memo(function UnderWay({ basin, shown }: { basin: ShownVisit["basin"]; shown: ShownVisit }) {
  return (
    <div className="grid items-start gap-4 wide:grid-cols-[17rem_1fr]">
      <div className="min-w-0">
        <h1 className="text-xl leading-tight font-bold wide:mb-2">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
          <span className="text-base font-normal text-soft wide:block"> {basin.site.name}</span>
        </h1>
        <GettingIn
          access={shown.access}
          address={[basin.site.street, basin.site.district].filter(Boolean).join(", ")}
        />
        {openJobs(shown).map(({ job }) => (
          <p key={job.id}>
            <Link to={`/visits/${shown.visit.id}/job`} className="link inline-block py-3 font-semibold">
              {words.jobs.names[job.kind]}: {words.jobs.open}
            </Link>
          </p>
        ))}
        <RunSheet shown={shown} />
        <p className="hidden wide:block">
          <Link to={`/visits/${shown.visit.id}/incident`} className="link inline-block py-3 text-soft">
            {words.incidents.link}
          </Link>
        </p>
      </div>
      <div className="min-w-0">
        <Outlet />
      </div>
    </div>
  );
});

const row =
  "grid min-h-[44px] shrink-0 grid-cols-[1.3rem_auto] items-center gap-x-2 rounded-sm border border-transparent px-2 py-0.5 aria-[current=page]:border-ink aria-[current=page]:bg-sheet aria-[current=page]:font-semibold wide:grid-cols-[1.3rem_1fr_auto]";

/** The visit as one ordered list of stops, each with its state and value. */
function RunSheet({ shown }: { shown: ShownVisit }) {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const go = useCallback(
    (event: MouseEvent<HTMLAnchorElement>) => {
      if (event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
      event.preventDefault();
      void navigate(event.currentTarget.pathname);
    },
    [navigate],
  );
  return (
    <nav
      aria-label={words.visit.sheet}
      className="relative -mx-4 overflow-x-auto px-4 py-1 wide:mx-0 wide:px-0"
    >
      <Stops shown={shown} here={pathname.split("/")[3] ?? ""} go={go} />
    </nav>
  );
}

interface StopsProps {
  shown: ShownVisit;
  here: string;
  go: (event: MouseEvent<HTMLAnchorElement>) => void;
}

/** Plain links: a dozen of the router's own would each be worked out anew at every step that it takes. */
const Stops = memo(function Stops({ shown, here, go }: StopsProps) {
  const [all, showAll] = useState(false);
  // A demand test shows up once the pH asks for it; what is no routine and was never read, when somebody wants it.
  const listed = stopsOf(shown.soFar).filter(
    ({ stop, state }) =>
      state !== "carried" || (stop !== "acidDemand" && stop !== "baseDemand") || stop === here,
  );
  const isExtra = ({ stop, state }: (typeof listed)[number]) =>
    state === "carried" &&
    isStation(stop) &&
    stop !== here &&
    !shown.earlier.some(({ quantity }) => quantity === stop);
  const stops = all ? listed : listed.filter((one) => !isExtra(one));
  const lastTest = stops.findLastIndex(({ stop }) => isStation(stop));
  return (
    <ol className="flex gap-1 wide:grid wide:gap-0">
      {stops.map(({ stop, state }, index) => (
        <Fragment key={stop}>
          <li ref={stop === here ? intoView : undefined}>
            <a
              href={`/visits/${shown.visit.id}/${stop}`}
              onClick={go}
              aria-current={stop === here ? "page" : undefined}
              className={`${row} ${stop === "judge" ? "wide:border-t-rule" : ""} ${state === "carried" ? "text-soft" : ""}`}
            >
              <span aria-hidden="true">
                <StopMark {...shown} stop={stop} state={state} />
              </span>
              <span className="whitespace-nowrap">{stopName(stop)}</span>
              <span className="col-start-2 text-sm whitespace-nowrap text-soft wide:col-start-3 wide:text-base">
                <StopValue {...shown} stop={stop} state={state} />
                {state === "carried" && isStation(stop) && !shown.earlier.some((one) => one.quantity === stop)
                  ? words.visit.notDue
                  : null}
              </span>
            </a>
          </li>
          {index === lastTest && stops.length < listed.length ? (
            <li>
              <button
                type="button"
                className={`${row} w-full cursor-pointer text-left text-soft`}
                onClick={() => showAll(true)}
              >
                <span aria-hidden="true">
                  <Plus size={19} />
                </span>
                <span className="whitespace-nowrap">{words.visit.moreTests}</span>
              </button>
            </li>
          ) : null}
        </Fragment>
      ))}
    </ol>
  );
});

function StopMark({
  readings,
  findings,
  ranges,
  stop,
  state,
}: ShownVisit & { stop: Stop; state: StopState }) {
  const reading = readings.find((one) => one.quantity === stop);
  if (!reading) {
    if (state === "done") return <Check size={19} />;
    if (state === "carried") return <span className="block h-0.5 w-4 bg-soft" />;
    return isStation(stop) || stop === "look" || stop === "sample" ? (
      <span className="block h-4 w-4 rounded-full border-2 border-soft" />
    ) : null;
  }
  const place = placeInRange(reading, ranges[reading.quantity]);
  if (findings.some((finding) => finding.quantity === stop && finding.closes))
    return <OctagonX size={19} className="text-above" />;
  if (place === "within") return <Check size={19} />;
  return <span className={place === "low" ? "text-below" : "text-above"}>{place === "low" ? "▼" : "▲"}</span>;
}

function StopValue(data: ShownVisit & { stop: Stop; state: StopState }): ReactNode {
  const { readings, earlier, findings, doses, ranges, visit, progress, soFar, now, stop, state } = data;
  const units = useUnits();
  if (stop === "judge") return readings.length > 0 ? findings.length : "";
  if (stop === "dose") return doses.filter((dose) => dose.givenGrams > 0).length || "";
  if (stop === "retest") return progress?.toRetest.length || "";
  if (stop === "close") return "";
  if (stop === "work") return soFar.workLeft ? words.chores.left({ count: soFar.workLeft }) : "";
  if (stop === "look" || stop === "sample") {
    const noted = stop === "look" ? troublesOf(visit.look).length : (visit.sampling?.ignored.length ?? 0);
    return state === "open" ? words.visit.open : noted > 0 ? words.visit.noted({ count: noted }) : "";
  }
  const reading = readings.find((one) => one.quantity === stop);
  if (reading) {
    const place = placeInRange(reading, ranges[reading.quantity]);
    return (
      <>
        <b className="text-ink">
          {BOUND_SIGN[reading.bound]}
          {valueText(stop, reading.value, units)}
        </b>
        {place === "within" ? null : <span className="sr-only"> {placeWord(place)}</span>}
      </>
    );
  }
  if (state === "open") return words.visit.open;
  const old = earlier.find((one) => one.quantity === stop);
  return old ? `${valueText(stop, old.value, units)}, ${agoShort(old.takenAt, now)}` : "";
}

/** On a phone the sheet is a strip; the open station is brought to where it can be seen, with the next frame. */
const intoView = (element: HTMLLIElement | null) => {
  requestAnimationFrame(() => element?.scrollIntoView({ block: "nearest", inline: "center" }));
};
