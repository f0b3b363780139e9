import { type ReactNode, useState } from "react";
import { Form, Link } from "react-router";
import {
  closingOf,
  type Finding,
  feederKindOf,
  PROMISED,
  STEERED,
  UNTESTED,
  type UnitSystem,
  type Untested,
} from "#core";
import { onServer } from "../../device/action.server";
import { noteKey } from "../../device/drafts";
import { closeCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { BathingBanner } from "../../ui/bathing-banner";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { FindingFlag } from "../../ui/finding-flag";
import { bracketOf, dayText, valueText, withUnit } from "../../ui/format";
import { inLanguage } from "../../ui/in-language";
import { Pictogram } from "../../ui/pictogram";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useFirm } from "../../ui/use-firm";
import { useStored } from "../../ui/use-stored";
import { useWriters } from "../../ui/use-writers";
import { bathingReason, listText, quantityName, quantityShort, words, workShort } from "../../words";
import { HoldLine } from "../basin/hold";
import type { Route } from "./+types/close";
import { useAmount, useLeaveText } from "./ahead-parts";
import { rounded } from "./rounded";
import { UnsavedCounts } from "./unsaved-counts";
import { usePlaceMark } from "./use-place-mark";
import { useVisit } from "./use-visit";

export const action = onServer(closeCommand);

export const clientAction = onDevice(closeCommand);

const isText = (value: unknown): value is string => typeof value === "string";

/** The visit in one look, before it is closed: read, given, left open, next call, and what the customer reads. */
export default function Close({ actionData }: Route.ComponentProps) {
  usePlaceMark("end");
  const opened = useVisit();
  const { visit, findings, readings } = opened;
  const { units } = useFirm();
  // On this device until it is in the book: neither a server that breaks nor a reload takes it.
  const [note, setNote] = useStored(noteKey(visit.id), visit.note, isText);
  // As typed, or as the plan sets it.
  const planned = usePlannedSetting();
  const [setting, set] = useState(planned ?? "");
  const id = useClientId("close");
  const [untested, setUntested] = useState<Untested | null>(null);
  const draft = useDraft();
  const [drafted, setDrafted] = useState("");
  // The customer's to read, whatever the technician speaks.
  const write = async () => {
    const text = await inLanguage(opened.basin.site.language, draft);
    setDrafted(text);
    setNote(note ? `${note}\n${text}` : text);
  };
  const said = words.visit;
  return (
    <Form method="post" className="grid max-w-3xl gap-4">
      <h2 className="text-2xl font-bold">{said.closeTitle}</h2>
      <p>{said.rinse}</p>
      <p className="flex items-center gap-2 font-medium">
        <Pictogram name="cover-on" /> {said.lockUp}
      </p>
      <UnsavedCounts />
      {/* A call for something else says nothing new of the water, unless something closes it. */}
      {untested !== null && opened.bathing.state === "untested" ? null : (
        <BathingBanner bathing={opened.bathing} basin={opened.basin} />
      )}
      <WorkLeft />
      {readings.length === 0 ? (
        <NotTested why={untested} choose={setUntested} />
      ) : (
        <dl className="sheet grid gap-x-6 gap-y-3 p-4 wide:grid-cols-[9rem_1fr]">
          <Row name={words.closing.read}>
            {readings
              .map((one) => `${quantityShort(one.quantity)} ${valueText(one.quantity, one.value, units)}`)
              .join(" · ")}
          </Row>
          <Row name={words.closing.given}>
            <GivenHere />
          </Row>
          <Row name={words.closing.open}>
            {findings.length === 0 ? (
              words.closing.nothingOpen
            ) : (
              <LeftOpen
                findings={findings}
                add={(why) => setNote(note ? `${note}\n${why}` : why)}
                note={note}
              />
            )}
          </Row>
          <NextCall />
        </dl>
      )}
      <div className="grid gap-1">
        <label className="grid gap-1 font-medium">
          {said.note}
          <textarea
            name="note"
            rows={4}
            value={note}
            onChange={(event) => setNote(event.target.value)}
            placeholder={said.notePlaceholder}
          />
        </label>
        <p className="flex flex-wrap items-center gap-x-4 text-sm text-soft">
          {words.closing.customerReads}
          {drafted && note.includes(drafted) ? null : (
            <Button type="button" quiet onClick={() => void write()}>
              {words.closing.draft}
            </Button>
          )}
        </p>
      </div>
      <FeederLeft setting={setting} set={set} />
      <input
        type="hidden"
        name="id"
        value={id(`${note}${setting}${untested}`)}
        readOnly
        suppressHydrationWarning
      />
      <Refused answer={actionData as SaveAnswer} />
      <Button className="justify-self-start" disabled={readings.length === 0 && untested === null}>
        {said.finish}
      </Button>
    </Form>
  );
}

/** What is due here besides the water, and nobody has said anything of. */
function WorkLeft() {
  const { visit, work, soFar } = useVisit();
  if (!soFar.workLeft) return null;
  const names = work.filter(({ because, done }) => because && !done).map(workShort);
  return (
    <p className="flex flex-wrap items-center gap-x-3">
      {words.chores.leftHere({ names: listText(names) })}
      <Link to={`/visits/${visit.id}/work`} className="link min-h-[44px] content-center">
        {words.chores.toWork}
      </Link>
    </p>
  );
}

/** A call for something else: closed without a test, once it is said why. */
function NotTested({ why, choose }: { why: Untested | null; choose: (why: Untested) => void }) {
  const said = words.chores.untested;
  return (
    <fieldset className="sheet grid gap-2 p-4">
      <legend className="sr-only">{said.title}</legend>
      <p className="text-lg font-semibold">{said.title}</p>
      <p>{said.hint}</p>
      <p className="font-medium">{said.reason}</p>
      <div className="flex flex-wrap gap-2">
        {UNTESTED.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={why === one}
            className={`${why === one ? "action" : "quiet-action"} min-h-[52px]`}
            onClick={() => choose(one)}
          >
            {said.whys[one]}
          </button>
        ))}
      </div>
      {why === "other" ? <p className="text-soft">{said.other}</p> : null}
      <input type="hidden" name="untested" value={why ?? ""} />
    </fieldset>
  );
}

/** What the plan sets the feeder to, as it is typed. */
function usePlannedSetting(): string | null {
  const { ahead } = closingOf(useVisit());
  const one = ahead?.leave.find(({ code }) => code === "feeder");
  return one?.code === "feeder" ? one.to.toFixed(1) : null;
}

/** What the feeder is left at, where there is one: what it gives over that is learned. */
function FeederLeft({ setting, set }: { setting: string; set: (setting: string) => void }) {
  const { basin } = useVisit();
  const said = words.closing;
  if (feederKindOf(basin) === "none") return null;
  return (
    <div className="grid gap-1">
      <Field label={said.feederLeft}>
        <input
          name="feederSetting"
          inputMode="decimal"
          autoComplete="off"
          className="max-w-40"
          value={setting}
          onChange={(event) => set(event.target.value)}
        />
      </Field>
      <p className="text-sm text-soft">{said.feederLeftHint}</p>
    </div>
  );
}

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <dt className="font-semibold text-soft">{name}</dt>
      <dd>{children}</dd>
    </>
  );
}

/** What went in, each product once. */
function useGiven(units?: UnitSystem): () => string {
  const { doses, products } = useVisit();
  const amount = useAmount(units);
  const sums = new Map<string, number>();
  for (const { productId, givenGrams } of doses) sums.set(productId, (sums.get(productId) ?? 0) + givenGrams);
  return () =>
    listText(
      [...sums].flatMap(([id, grams]) => {
        const product = products.find((one) => one.id === id);
        return product && grams > 0 ? [words.amountOf(amount(id, product.product, grams))] : [];
      }),
    );
}

function GivenHere() {
  const given = useGiven();
  return given() || words.closing.nothingGiven;
}

/** What stands outside, and why it stays so: asked once, by a tap. */
function LeftOpen({
  findings,
  add,
  note,
}: {
  findings: Finding[];
  add: (why: string) => void;
  note: string;
}) {
  const [told, tell] = useState(false);
  const said = words.closing;
  const names = listText(findings.map(({ quantity }) => quantityName(quantity)));
  const line = (why: string) => said.leftOpen({ names, why });
  const isTold = told || Object.values(said.whys).some((why) => note.includes(line(why)));
  return (
    <div className="grid gap-2">
      <p className="flex flex-wrap gap-2">
        {findings.map((finding) => (
          <FindingFlag key={finding.code} finding={finding} />
        ))}
      </p>
      {isTold ? null : (
        <p className="flex flex-wrap items-center gap-2">
          <span className="text-soft">{said.why}</span>
          {Object.values(said.whys).map((why) => (
            <Button
              key={why}
              type="button"
              quiet
              onClick={() => {
                add(line(why));
                tell(true);
              }}
            >
              {why}
            </Button>
          ))}
        </p>
      )}
    </div>
  );
}

/** When the next call is, what is due then, what it will find and give. */
function NextCall() {
  const opened = useVisit();
  const { units } = useFirm();
  const amount = useAmount();
  const leave = useLeaveText();
  const { next, due, expected, ahead } = closingOf(opened);
  const said = words.closing;
  const then = ahead?.calls[0]?.doses ?? [];
  const known = STEERED.filter((quantity) => expected[quantity]);
  return (
    <>
      {ahead && ahead.leave.length > 0 ? (
        <Row name={words.ahead.leave}>
          <ul>
            {ahead.leave.map((one) => (
              <li key={one.code}>
                {leave(one, opened.visit.litres, opened.basin.equipment.feeder ?? undefined)}
              </li>
            ))}
          </ul>
        </Row>
      ) : null}
      <Row name={said.next}>
        {next === null ? (
          said.noNext
        ) : (
          <>
            <b>{dayText(next)}</b>
            {due.length > 0 ? `. ${said.due({ names: listText(due.map(quantityName)) })}` : ""}
            {then.length > 0
              ? ` ${said.givenThen({ what: listText(then.map(({ product, compound, grams }) => words.amountOf(amount(product, compound, grams)))) })}`
              : ""}
          </>
        )}
      </Row>
      {opened.learned?.hold && opened.learned.hold.asItIs.right.value < PROMISED ? (
        <Row name={words.hold.title}>
          <HoldLine hold={opened.learned.hold} basinId={opened.basin.id} />
        </Row>
      ) : null}
      {known.length > 0 ? (
        <Row name={said.until}>
          {known
            .map((quantity) => {
              const figure = expected[quantity];
              return figure
                ? `${quantityShort(quantity)} ${withUnit(quantity, rounded(quantity, figure.value), units)} (${bracketOf(figure, (value) => valueText(quantity, rounded(quantity, value), units))})`
                : "";
            })
            .join(" · ")}
        </Row>
      ) : null}
    </>
  );
}

/** A few plain sentences for whoever owns the water. */
function useDraft(): () => string {
  const opened = useVisit();
  // The customer's sheet counts as the firm does.
  const { units } = opened.firm;
  const given = useGiven(units);
  const { next, ahead } = closingOf(opened);
  const leave = useLeaveText();
  const { bathing } = opened;
  const write = useWriters(units);
  const sign = ahead?.leave.find(({ code }) => code === "sign");
  return () => {
    const said = words.closing;
    const what = given();
    return [
      bathing.state === "closed" || bathing.state === "untested"
        ? [
            bathing.state === "closed" ? words.customer.swimNot : words.customer.swimUntested,
            ...bathing.because.map((reason) => bathingReason(reason, write)),
          ].join(" ")
        : "",
      opened.readings.length === 0
        ? ""
        : opened.findings.length === 0
          ? said.draftRight
          : said.draftFound({
              what: listText(
                opened.findings.map(
                  (finding) =>
                    `${quantityName(finding.quantity)} ${withUnit(finding.quantity, finding.value, units)}`,
                ),
              ),
            }),
      what ? said.draftGiven({ what }) : "",
      sign ? leave(sign, opened.visit.litres, undefined) : "",
      next ? said.draftNext({ day: dayText(next) }) : "",
    ]
      .filter(Boolean)
      .join(" ");
  };
}
