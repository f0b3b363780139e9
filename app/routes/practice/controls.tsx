import { type ReactNode, useEffect, useRef, useState } from "react";
import {
  LIGHTS,
  type Measure,
  type Method,
  type Mixing,
  type Next,
  SCOOPS,
  scoopAsItComes,
  stepsFor,
} from "#core";
import { Button } from "../../ui/button";
import { measureName, shipped, words } from "../../words";
import type { Hands } from "./use-hands";

/** What hands can take, in the order in which a test takes it: the vessel, the bottles, the mixing, the drops. */
export function Controls({
  method,
  line,
  hands,
  all,
  next,
}: {
  method: Method;
  line: number;
  hands: Hands;
  all: readonly Bottle[];
  /** What stands out; null where nobody is guided. */
  next: Next | null;
}) {
  const said = words.practice;
  const isDrops = method.kind === "titration";
  const steps = stepsFor(method, line);
  const waits = steps.flatMap(({ mix, wait }) => (wait !== undefined && mix !== "shake" ? [wait] : []));
  const due = next && (next.kind === "mix" || next.kind === "wait") ? next : null;
  const isMixDue = (how: Mixing) => due?.kind === "mix" && due.step.mix === how;
  const isShaken = due?.kind === "wait" && due.step.mix === "shake";
  return (
    <section aria-label={said.hands} className="grid gap-4">
      {method.continues ? null : (
        <Group name={said.groups.sample}>
          <Fill hands={hands} line={line} isNext={next?.kind === "fill"} />
        </Group>
      )}
      <Group name={said.groups.bottles}>
        {all.map((bottle) => (
          <Add
            key={bottle.reagent}
            bottle={bottle}
            hands={hands}
            isNext={next?.kind === "add" && next.step.reagent === bottle.reagent}
          />
        ))}
      </Group>
      <Group name={said.groups.mixing}>
        {(["swirl", "invert", "shake"] as const).map((how) =>
          how === "invert" ? (
            <Button
              key={how}
              type="button"
              quiet={!isMixDue(how)}
              onClick={() => hands.does({ kind: "mix", how, seconds: 4 })}
            >
              {said.mixes[how]}
            </Button>
          ) : (
            <Holding
              key={how}
              label={said.holdTo({ what: said.mixes[how] })}
              isNext={isMixDue(how) || (how === "shake" && isShaken)}
              down={() => hands.hold(how)}
              up={hands.release}
              pressed={() => hands.does({ kind: "mix", how, seconds: how === "shake" ? 30 : 2 })}
            />
          ),
        )}
        {[...new Set([30, ...waits])].map((seconds) => (
          <Button
            key={seconds}
            type="button"
            quiet={!(due?.kind === "wait" && due.step.wait === seconds)}
            onClick={() => hands.pass(seconds)}
          >
            {said.wait({ seconds })}
          </Button>
        ))}
      </Group>
      {isDrops ? <Tilt hands={hands} /> : null}
      <details>
        <summary className="min-h-[44px] scroll-mt-80 cursor-pointer py-2 text-soft">
          {said.groups.more}
        </summary>
        <div className="grid gap-3">
          <Group name={said.light}>
            {LIGHTS.map((light) => (
              <Button
                key={light}
                type="button"
                quiet={hands.vessel.light !== light}
                aria-pressed={hands.vessel.light === light}
                onClick={() => hands.does({ kind: "light", light })}
              >
                {said.lights[light]}
              </Button>
            ))}
          </Group>
          <Group name={said.handle}>
            {method.continues ? null : (
              <Button type="button" quiet onClick={() => hands.does({ kind: "dilute", times: 2 })}>
                {said.dilute}
              </Button>
            )}
            {isDrops ? (
              <Button type="button" quiet onClick={() => hands.does({ kind: "drop", angle: hands.angle })}>
                {said.ahead}
              </Button>
            ) : (
              <Button type="button" quiet onClick={() => hands.does({ kind: "warm" })}>
                {said.warm}
              </Button>
            )}
          </Group>
        </div>
      </details>
    </section>
  );
}

/** Buttons that belong together, under their name. */
function Group({ name, children }: { name: string; children: ReactNode }) {
  return (
    <fieldset className="flex flex-wrap items-center gap-2">
      <legend className="mb-1 text-sm text-soft">{name}</legend>
      {children}
    </fieldset>
  );
}

/** A reagent of the case and how it is measured. */
export interface Bottle {
  reagent: string;
  measure: Measure;
  /** Of what is measured by the millilitre, all at once. */
  amount: number;
}

function Add({
  bottle: { reagent, measure, amount },
  hands,
  isNext,
}: {
  bottle: Bottle;
  hands: Hands;
  isNext: boolean;
}) {
  const said = words.practice;
  const name = shipped(reagent);
  const inside = hands.vessel.added[reagent] ?? 0;
  const told = inside > 0 ? ` · ${said.given({ amount: `${Math.round(inside * 10) / 10}` })}` : "";
  const add = (some: number) => hands.does({ kind: "add", reagent, amount: some });
  if (measure === "scoops")
    return (
      <>
        {(["level", "asItComes"] as const).map((how) => (
          <Button
            key={how}
            type="button"
            quiet={!(isNext && how === "level")}
            onClick={() => add(how === "level" ? SCOOPS.level : scoopAsItComes(hands.turn))}
          >
            {name}: {said.scoop[how]}
            {told}
          </Button>
        ))}
      </>
    );
  const isMany = measure === "drops" && amount >= 5;
  return (
    <>
      <Button type="button" quiet={!isNext} onClick={() => add(measure === "mL" ? amount : 1)}>
        {measure === "mL"
          ? said.addMl({ reagent: name, amount })
          : said.add({ reagent: name, measure: measureName(measure, 1) })}
        {told}
      </Button>
      {isMany ? (
        <Button type="button" quiet onClick={() => add(5)}>
          {said.five({ reagent: name })}
        </Button>
      ) : null}
    </>
  );
}

/** mL a second. */
const POURS = 9;
const STEP_MS = 40;

/** Pours as long as it is held; the level is read at the bottom of the curve. */
function Fill({ hands, line, isNext }: { hands: Hands; line: number; isNext: boolean }) {
  const said = words.practice;
  const level = useRef(0);
  const timer = useRef<ReturnType<typeof setInterval>>(undefined);
  const latest = useRef(hands);
  latest.current = hands;
  useEffect(() => () => clearInterval(timer.current), []);
  const stop = () => {
    clearInterval(timer.current);
    timer.current = undefined;
  };
  const pour = () => {
    stop();
    level.current = latest.current.vessel.millilitres;
    timer.current = setInterval(() => {
      level.current = Math.min(line * 1.35, level.current + (POURS * line * STEP_MS) / 25_000);
      latest.current.does({ kind: "fill", millilitres: level.current });
    }, STEP_MS);
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <Holding
        label={`${said.fill} (${Math.round(hands.vessel.millilitres * 10) / 10} mL)`}
        isNext={isNext}
        down={pour}
        up={stop}
        // By keyboard a press pours a little, as a careful hand would.
        pressed={() =>
          hands.does({
            kind: "fill",
            millilitres: Math.min(line * 1.35, hands.vessel.millilitres + line / 10),
          })
        }
      />
      <Button type="button" quiet onClick={() => hands.does({ kind: "fill", millilitres: 0 })}>
        {said.empty}
      </Button>
      <span className="text-sm text-soft">{said.fillHint({ line })}</span>
    </div>
  );
}

/** A button that works as long as it is held; by keyboard or a switch a press is one measure of it. */
export function Holding({
  label,
  isNext = false,
  down,
  up,
  pressed,
}: {
  label: string;
  isNext?: boolean;
  down: () => void;
  up: () => void;
  pressed: () => void;
}) {
  return (
    <button
      type="button"
      className={`${isNext ? "action" : "quiet-action"} touch-none`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        down();
      }}
      onPointerUp={up}
      onPointerCancel={up}
      onClick={(event) => event.detail === 0 && pressed()}
    >
      {label}
    </button>
  );
}

type Permission = { requestPermission?: () => Promise<"granted" | "denied"> };

/** The bottle's tilt: by slider, by keys, or by the phone's own. */
function Tilt({ hands }: { hands: Hands }) {
  const said = words.practice;
  const [phone, setPhone] = useState<"off" | "on" | "none">("off");
  const { setAngle } = hands;
  useEffect(() => {
    if (phone !== "on") return;
    let heard = false;
    const hear = ({ gamma, beta }: DeviceOrientationEvent) => {
      if (gamma === null || beta === null) return;
      heard = true;
      // A phone held as a bottle: upright is none.
      setAngle(Math.min(70, Math.round(Math.hypot(gamma, 90 - Math.abs(beta)))));
    };
    window.addEventListener("deviceorientation", hear);
    const silent = setTimeout(() => heard || setPhone("none"), 1500);
    return () => {
      clearTimeout(silent);
      window.removeEventListener("deviceorientation", hear);
    };
  }, [phone, setAngle]);
  const ask = async () => {
    if (typeof DeviceOrientationEvent === "undefined") return setPhone("none");
    const { requestPermission } = DeviceOrientationEvent as unknown as Permission;
    const answer = await requestPermission?.().catch(() => "denied" as const);
    setPhone(answer === "denied" ? "none" : "on");
  };
  return (
    <div className="grid gap-1">
      <label className="flex flex-wrap items-center gap-3">
        <span className="text-soft">
          {said.tilt}: <b className="text-ink">{Math.round(hands.angle)}°</b>
        </span>
        <input
          type="range"
          min={0}
          max={70}
          step={1}
          value={hands.angle}
          onChange={(event) => hands.setAngle(Number(event.target.value))}
          className="h-11 grow"
        />
      </label>
      {phone === "none" ? (
        <p role="status" className="text-sm text-below">
          {said.tiltNone}
        </p>
      ) : phone === "off" ? (
        <button type="button" className="link min-h-[44px] w-fit cursor-pointer" onClick={ask}>
          {said.tiltPhone}
        </button>
      ) : null}
    </div>
  );
}
