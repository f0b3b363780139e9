import { Link, useNavigate } from "react-router";
import { placeInRange, rangeFor, STATION_ORDER } from "#core";
import { FindingFlag } from "../../ui/finding-flag";
import { ago, withUnit } from "../../ui/format";
import { Staff } from "../../ui/staff";
import { useFirm } from "../../ui/use-firm";
import { useKeys } from "../../ui/use-keys";
import { doubtText, findingSentence, quantityName, words } from "../../words";
import { Balance } from "./balance";
import { useVisit } from "./use-visit";

/** Every reading against its band, and in words what is out and why. */
export default function Judge() {
  const { visit, basin, due, readings, earlier, findings, carried, setAside, balance, rangeSet, now } =
    useVisit();
  const { units } = useFirm();
  const navigate = useNavigate();
  const next = findings.length > 0 ? "dose" : "close";
  useKeys({ s: () => navigate(`/visits/${visit.id}/${next}`) });
  const untested = due
    .map((one) => one.station)
    .filter((station) => station !== "acidDemand" && station !== "baseDemand")
    .filter((station) => !readings.some((reading) => reading.quantity === station));
  return (
    <section aria-label={words.visit.judgeTitle} className="grid gap-4">
      <h2 className="text-2xl font-bold">{words.visit.judgeTitle}</h2>
      {readings.length === 0 ? (
        <p className="sheet p-4">{words.visit.judgeNone}</p>
      ) : (
        <div className="sheet flex flex-wrap items-start justify-around gap-x-1 gap-y-4 p-4">
          {STATION_ORDER.filter((station) => station !== "acidDemand" && station !== "baseDemand").map(
            (station) => {
              const reading = readings.find((one) => one.quantity === station);
              if (!reading) return null;
              const range = rangeFor(rangeSet, station, basin.surface);
              return (
                <Staff
                  key={station}
                  quantity={station}
                  measured={reading}
                  range={range}
                  ghost={earlier.find((one) => one.quantity === station)?.value}
                  place={placeInRange(reading, range)}
                  closes={findings.some((finding) => finding.quantity === station && finding.closes)}
                />
              );
            },
          )}
        </div>
      )}
      {balance ? <Balance balance={balance} /> : null}
      {findings.length > 0 ? (
        <ol className="grid gap-2">
          {findings.map((finding) => (
            <li key={finding.code} className="grid items-center gap-x-3 wide:grid-cols-[9.5rem_1fr]">
              <span>
                <FindingFlag finding={finding} />
              </span>
              <span>
                {findingSentence(
                  finding,
                  withUnit(finding.quantity, finding.value, units),
                  withUnit(finding.quantity, finding.limit, units),
                )}
                {finding.closes ? <b className="text-above"> {words.visit.closed}</b> : null}
              </span>
            </li>
          ))}
        </ol>
      ) : readings.length > 0 ? (
        <p className="text-lg">{words.visit.allRight}</p>
      ) : null}
      {setAside.map((reading) => (
        <p key={reading.id} className="border-l-4 border-below bg-below-wash p-3 text-below">
          {words.visit.setAside(quantityName(reading.quantity))}{" "}
          {reading.doubts.map((doubt) => doubtText(doubt, reading.quantity, units)).join(" ")}
        </p>
      ))}
      {untested.length > 0 && readings.length > 0 ? (
        <p className="text-soft">
          {words.visit.notTested}:{" "}
          {untested
            .map((station) => {
              const old = carried.find((reading) => reading.quantity === station);
              return old
                ? `${quantityName(station)} (${words.visit.carried(withUnit(station, old.value, units), ago(old.takenAt, now))})`
                : quantityName(station);
            })
            .join(", ")}
          .
        </p>
      ) : null}
      <p className="text-soft">{words.visit.bySet(rangeSet.name)}</p>
      {readings.length > 0 ? (
        <Link to={`/visits/${visit.id}/${next}`} className="action justify-self-start">
          {next === "dose" ? words.visit.toDose : words.visit.toClose} <kbd className="key">S</kbd>
        </Link>
      ) : null}
    </section>
  );
}
