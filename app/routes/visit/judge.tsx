import { Link, useNavigate } from "react-router";
import {
  type Figure,
  type Finding,
  missesOf,
  type Notice,
  openJobs,
  placeInRange,
  type Quantity,
  STATION_ORDER,
  troublesOf,
  USUAL_WINDOW,
} from "#core";
import { noteKey } from "../../device/drafts";
import { BathingBanner } from "../../ui/bathing-banner";
import { Button } from "../../ui/button";
import { FindingFlag } from "../../ui/finding-flag";
import { BOUND_SIGN, hoursText, toldLimit, valueText, withUnit } from "../../ui/format";
import { Staff } from "../../ui/staff";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { useStored } from "../../ui/use-stored";
import { useWriters } from "../../ui/use-writers";
import { Why } from "../../ui/why";
import {
  doubtText,
  findingSentence,
  listText,
  noticeText,
  quantityName,
  rangeText,
  shipped,
  words,
} from "../../words";
import { Balance } from "./balance";
import { rounded } from "./rounded";
import { targetOf } from "./target";
import { UnsavedCounts } from "./unsaved-counts";
import { useLastStops, useVisit } from "./use-visit";

/** What the last visit's plan did not see coming: asked about once, by a tap that goes into the note. */
function Misses() {
  const opened = useVisit();
  const { units } = useFirm();
  const [note, setNote] = useStored(noteKey(opened.visit.id), opened.visit.note, isText);
  const misses = missesOf(opened);
  const said = words.closing;
  if (misses.length === 0) return null;
  const names = listText(misses.map(({ quantity }) => quantityName(quantity)));
  const isTold = said.missedWhys.some((why) => note.includes(said.missedLine({ names, why })));
  return (
    <section className="grid gap-2 border-l-4 border-below bg-below-wash p-3">
      {misses.map(({ quantity, found, promised }) => (
        <p key={quantity}>
          {said.missed({
            name: quantityName(quantity),
            found: withUnit(quantity, found, units),
            low: valueText(quantity, rounded(quantity, promised.low), units),
            high: valueText(quantity, rounded(quantity, promised.high), units),
          })}
        </p>
      ))}
      {isTold ? null : (
        <p className="flex flex-wrap items-center gap-2">
          <span className="text-soft">{said.missedWhy}</span>
          {said.missedWhys.map((why) => (
            <Button
              key={why}
              type="button"
              quiet
              onClick={() => setNote([note, said.missedLine({ names, why })].filter(Boolean).join("\n"))}
            >
              {why}
            </Button>
          ))}
        </p>
      )}
    </section>
  );
}

const isText = (value: unknown): value is string => typeof value === "string";

/** Green water is no shock's work: where that leads to. */
function GreenOffer() {
  const opened = useVisit();
  const isGreen = troublesOf(opened.visit.look).some((trouble) => trouble === "green" || trouble === "brown");
  if (!isGreen || openJobs(opened).some(({ job }) => job.kind === "green")) return null;
  return (
    <p>
      <Link to={`/visits/${opened.visit.id}/recipes/green-pool`} className="link inline-block py-2">
        {words.jobs.offer}
      </Link>
    </p>
  );
}

/** Every reading against its band, and in words what is out and why. */
export default function Judge() {
  const {
    visit,
    due,
    readings,
    earlier,
    findings,
    possible,
    outBefore,
    notices,
    setAside,
    balance,
    bathing,
    rangeSet,
    ranges,
    progress,
    plans,
    basin,
    promised,
  } = useVisit();
  const promisedFor = (station: string) =>
    (promised?.readings as Record<string, Figure | undefined> | undefined)?.[station];
  const navigate = useNavigate();
  const last = useLastStops();
  const next = findings.length > 0 || progress ? "dose" : last.to;
  useKeys({ s: () => navigate(`/visits/${visit.id}/${next}`) });
  const untested = due
    // What is no routine and was never read is not missing.
    .filter((one) => one.due || earlier.some(({ quantity }) => quantity === one.station))
    .map((one) => one.station)
    .filter((station) => station !== "acidDemand" && station !== "baseDemand")
    .filter((station) => !readings.some((reading) => reading.quantity === station))
    .filter(
      (station) =>
        !notices.some((notice) => notice.code === "reading.carried" && notice.quantity === station),
    );
  const told = notices.filter((notice) => !notice.code.startsWith("basin.") && !isAside(notice));
  const aside = notices.filter(isAside);
  return (
    <section aria-label={words.visit.judgeTitle} className="grid gap-4">
      <h2 className="text-2xl font-bold">{words.visit.judgeTitle}</h2>
      <UnsavedCounts />
      <BathingBanner bathing={bathing} basin={basin} />
      <GreenOffer />
      {readings.length === 0 ? (
        <p className="sheet p-4">{words.visit.judgeNone}</p>
      ) : (
        <div className="sheet flex flex-wrap items-start justify-around gap-x-1 gap-y-4 p-4">
          {STATION_ORDER.filter((station) => station !== "acidDemand" && station !== "baseDemand").map(
            (station) => {
              const reading = readings.find((one) => one.quantity === station);
              if (!reading) return null;
              return (
                <Staff
                  key={station}
                  quantity={station}
                  measured={reading}
                  range={ranges[station]}
                  ghost={earlier.find((one) => one.quantity === station)?.value}
                  target={targetOf(plans.at(-1), reading) ?? promisedFor(station)}
                  place={placeInRange(reading, ranges[station])}
                  closes={findings.some((finding) => finding.quantity === station && finding.closes)}
                />
              );
            },
          )}
        </div>
      )}
      <Misses />
      {balance ? (
        <Balance balance={balance} window={rangeSet.saturation ?? USUAL_WINDOW} litres={visit.litres} />
      ) : null}
      {findings.length > 0 || outBefore.length > 0 ? (
        <section className="grid gap-2">
          <h3 className="text-lg font-semibold">{words.judge.first}</h3>
          <ol className="sheet divide-y divide-rule">
            {findings.map((finding) => (
              <FindingLine key={finding.code} finding={finding} />
            ))}
            {outBefore.map((finding) => (
              <FindingLine key={`before ${finding.code}`} finding={finding} />
            ))}
          </ol>
        </section>
      ) : readings.length > 0 ? (
        <p className="text-lg">{words.visit.allRight}</p>
      ) : null}
      {setAside.map((reading) => (
        <SetAside key={reading.id} reading={reading} />
      ))}
      {possible.length > 0 ? (
        <section className="grid gap-2">
          <h3 className="text-lg font-semibold">{words.judge.possible}</h3>
          <ul className="sheet divide-y divide-rule">
            {possible.map((finding) => (
              <li key={finding.code} className="p-3">
                <Possible finding={finding} />
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      <Notices title={words.judge.also} notices={told} />
      <Notices title={words.judge.carried} notices={aside} />
      {untested.length > 0 && readings.length > 0 ? (
        <p className="text-soft">
          {words.visit.notTested}: {listText(untested.map(quantityName))}.
        </p>
      ) : null}
      <p className="flex flex-wrap items-center gap-x-4 text-soft">
        {words.visit.bySet({ name: shipped(rangeSet.name) })}
        <Link to={`/basins/${basin.id}/compare`} className="link min-h-[44px] content-center">
          {words.judge.compare}
        </Link>
      </p>
      {readings.length > 0 ? (
        <Link to={`/visits/${visit.id}/${next}`} className="action next-step justify-self-start">
          {next === "dose" ? words.visit.toDose : last.text} <kbd className="key">S</kbd>
        </Link>
      ) : null}
    </section>
  );
}

const isAside = (notice: Notice): boolean =>
  notice.code === "reading.carried" || notice.code === "reading.bounded";

/** One reading out of its range: what it is, and on demand what the set asks for. */
function FindingLine({ finding }: { finding: Finding }) {
  const { rangeSet, ranges, known } = useVisit();
  const { units } = useFirm();
  // What a plan doses for, though it was read on another day.
  const holds = (known.standing as Partial<Record<Quantity, string>>)[finding.quantity] === "carried";
  const text = (value: number) => withUnit(finding.quantity, value, units);
  const limit = (value: number) => text(toldLimit(finding.quantity, value));
  const range = ranges[finding.quantity];
  return (
    <li className="grid items-start gap-x-3 p-3 wide:grid-cols-[9.5rem_1fr]">
      <span>
        <FindingFlag finding={finding} />
      </span>
      <div>
        <Why
          says={`${findingSentence(finding, text(finding.value), limit(finding.limit))}${
            finding.daysAgo === undefined
              ? ""
              : ` ${words.judge[holds ? "readBeforeHolds" : "readBefore"]({ age: hoursText(finding.daysAgo * 24) })}`
          }`}
        >
          {words.judge.reading({
            set: shipped(rangeSet.name),
            limit: rangeText(range, limit),
            aim: range?.aim === undefined ? "" : limit(range.aim),
          })}{" "}
          {shipped(rangeSet.purpose)}
        </Why>
      </div>
    </li>
  );
}

/** What is written is inside; a drop or a gap of colours reaches over the edge. */
function Possible({ finding }: { finding: Finding }) {
  const { units } = useFirm();
  const text = (value: number) => withUnit(finding.quantity, value, units);
  return words.judge.mayBe({
    name: quantityName(finding.quantity),
    value: `${BOUND_SIGN[finding.bound]}${text(finding.value)}`,
    side: finding.code.endsWith(".low") ? "low" : "high",
    limit: text(toldLimit(finding.quantity, finding.limit)),
    closes: finding.mayClose === true,
  });
}

function Notices({ title, notices }: { title: string; notices: Notice[] }) {
  if (notices.length === 0) return null;
  return (
    <section className="grid gap-2">
      <h3 className="text-lg font-semibold">{title}</h3>
      <ul className="sheet divide-y divide-rule">
        {notices.map((notice) => (
          <li key={JSON.stringify(notice)} className="p-3">
            <NoticeLine notice={notice} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function NoticeLine({ notice }: { notice: Notice }) {
  const { says, why } = noticeText(notice, useWriters());
  return <Why says={says}>{why}</Why>;
}

function SetAside({ reading }: { reading: ReturnType<typeof useVisit>["setAside"][number] }) {
  const { units } = useFirm();
  return (
    <p className="border-l-4 border-below bg-below-wash p-3 text-below">
      {words.visit.setAside({ name: quantityName(reading.quantity) })}{" "}
      {reading.doubts.map((doubt) => doubtText(doubt, reading.quantity, units)).join(" ")}
    </p>
  );
}
