import type { LinearizedDrift } from "../../learning/linearized-drift";
import { MILLI, TOTALS, UNKNOWNS } from "../../learning/unknowns";
import { carbonDioxideAtRest, carbonDioxideShare } from "../../products/effects";
import { activity } from "../../water/sample";
import { chargeExpression, chargePerPh, type LinearTotals, type Reference } from "../plan/linearise";
import { type Linear, linear, type Programme, plus, times } from "../plan/programme";
import { halfWidth } from "../plan/weighing";
import { FEEDER, LEAST_FED } from "./ahead";
import type { Asked, Tangent } from "./asked";
import { hold, holdAcid, holdWay } from "./limit-rows";
import type { Moment } from "./moments";
import { mayPour, pours, together } from "./pour-rows";
import { Rows, xName } from "./rows";
import type { Term } from "./terms";

/**
 * The programme of a plan over several calls. At each call five totals are found and five stand after what is
 * given; between calls they drift, straight about the course of the pass before. What each reading must hold
 * is linear at its limits, as for one still water.
 */

const LETTERS = ["a", "c", "h", "y", "f"] as const;

const airName = (call: number): string => `air${call}`;

export function horizonProgramme(asked: Asked, tangent: Tangent, terms: readonly Term[]): Programme {
  const { ahead, input, weights, allowed } = asked;
  const { products, litres } = input;
  const calls = ahead.gaps.length + 1;
  const rows = new Rows();
  const node = (name: string): LinearTotals => ({
    alkalinity: linear(0, { [`${name}a`]: 1 }),
    inorganicCarbon: linear(0, { [`${name}c`]: 1 }),
    calcium: linear(0, { [`${name}h`]: 1 }),
    cyanurate: linear(0, { [`${name}y`]: 1 }),
    chlorine: linear(0, { [`${name}f`]: 1 }),
    borate: linear(MILLI * ahead.start.borate),
  });
  const termsAt = (kind: Moment["kind"], call: number) =>
    terms.filter(({ moment }) => moment.kind === kind && moment.call === call);
  const declare = (name: string) => {
    for (const letter of LETTERS)
      rows.variable(name + letter, Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY);
  };
  const fed = ahead.problem.feeder;
  if (fed) {
    const now = ahead.problem.rates.feeder;
    const most = Math.max(now, fed.most);
    const days = ahead.days.reduce((sum, one) => sum + one, 0);
    rows.variable("u", 0, most, (fed.pricePerKg / 1000) * days);
    rows.variable("yu", 0, 1, weights.setting);
    rows.binaries.push("yu");
    // What gives enough is left as it is set.
    rows.row(linear(-now, { u: 1, yu: allowed.feeder.up ? -most : 0 }), "<=");
    rows.row(linear(now, { u: -1, yu: allowed.feeder.down ? -most : 0 }), "<=");
  }

  for (let call = 0; call < calls; call++) {
    const found = `p${call}`;
    const after = `q${call}`;
    declare(found);
    declare(after);
    TOTALS.forEach((name, row) => {
      const letter = LETTERS[row] as string;
      if (call === 0) rows.row(linear(-MILLI * ahead.start[name], { [found + letter]: 1 }), "=");
      else {
        // What the gap before makes of the water that was left, and of what it is fed.
        const { map, constant } = tangent.drifts[call - 1] as LinearizedDrift;
        const terms: Record<string, number> = { [found + letter]: 1 };
        TOTALS.forEach((_, column) => {
          const weight = map[row * UNKNOWNS + column] as number;
          if (weight !== 0) terms[`q${call - 1}${LETTERS[column]}`] = -weight;
          if (weight !== 0 && LETTERS[column] === "c" && rows.bounds.has(airName(call - 1)))
            terms[airName(call - 1)] = weight;
        });
        let rest = constant[row] as number;
        const along = map[row * UNKNOWNS + FEEDER] as number;
        if (fed && along !== 0) {
          // Straight in the logarithm there, straight in the amount here.
          const fedThen = Math.max(LEAST_FED, tangent.fed);
          terms.u = -along / fedThen;
          rest += along * Math.log(fedThen) - along;
        }
        rows.row(linear(-rest, terms), "=");
      }
      const terms: Record<string, number> = { [after + letter]: 1, [found + letter]: -1 };
      products.forEach((_, index) => {
        const effect = ahead.effects[index]?.[name] ?? 0;
        if (effect !== 0 && mayPour(asked, call, index)) terms[xName(call, index)] = -effect;
      });
      rows.row(linear(0, terms), "=");
    });
    pours(rows, asked, call);
    const left = tangent.after[call] as Reference;
    const met = tangent.found[call] as Reference;
    if (call === 0) {
      holdAcid(rows, asked, node(after), left);
      holdWay(rows, asked, node(after), left);
    }
    hold(rows, termsAt("found", call), node(found), met);
    hold(rows, termsAt("after", call), node(after), left);
    const half = tangent.mid[call - 1];
    const before = tangent.aired[call - 1];
    // About half way between what was left and what is found, as far as the course bends.
    if (half && before)
      hold(
        rows,
        termsAt("mid", call - 1),
        between(node(`q${call - 1}`), node(found), before, met, half),
        half,
      );
    if (allowed.air && call < ahead.gaps.length) air(rows, asked, node(after), tangent.aired[call], call);
  }
  products.forEach(({ stock }, index) => {
    if (stock === null) return;
    const poured = Array.from({ length: calls }, (_, call) => xName(call, index)).filter((name) =>
      rows.bounds.has(name),
    );
    if (poured.length > 0)
      rows.row(
        linear(0, Object.fromEntries(poured.map((name) => [name, 1]))),
        "<=",
        (stock * MILLI) / litres,
      );
  });
  together(rows, asked, calls);
  return rows.programme();
}

/** A water between two, as far from their mean as the course of the pass before was. */
function between(
  from: LinearTotals,
  to: LinearTotals,
  left: Reference,
  met: Reference,
  half: Reference,
): LinearTotals {
  const mixed = (name: (typeof TOTALS)[number]): Linear =>
    plus(
      times(plus(from[name], to[name]), 0.5),
      linear(MILLI * (half.totals[name] - (left.totals[name] + met.totals[name]) / 2)),
    );
  return {
    alkalinity: mixed("alkalinity"),
    inorganicCarbon: mixed("inorganicCarbon"),
    calcium: mixed("calcium"),
    cyanurate: mixed("cyanurate"),
    chlorine: mixed("chlorine"),
    borate: from.borate,
  };
}

/** Air after a call: carbon dioxide out until the pH is up, and no further than what air holds itself. */
function air(
  rows: Rows,
  { input, weights }: Asked,
  after: LinearTotals,
  at: Reference | undefined,
  call: number,
): void {
  if (!at) return;
  const blown = rows.variable(airName(call), 0, MOST_AIR, weights.aired);
  const totals = { ...after, inorganicCarbon: plus(after.inorganicCarbon, blown, -1) };
  const { ph } = input.goals;
  // A water that stands there already is only not aired.
  if (ph.high !== null) {
    const top = ph.high - AIR_SHORT;
    const scale = Math.abs(halfWidth("ph", ph) * chargePerPh(at, top));
    rows.above(chargeExpression(at, totals, top), totals.alkalinity, scale, weights.outside);
  }
  const share = carbonDioxideShare(at.conditions, activity(at.ph));
  const rest = linear(MILLI * carbonDioxideAtRest(at.totals.temperature));
  rows.above(plus(linear(0), totals.inorganicCarbon, share), rest, AIR_SCALE, weights.outside);
}

/** Carbon dioxide by which what air cannot take is measured. mmol/L */
const AIR_SCALE = 0.01;
/** A night of air drives out no more. mmol/L */
const MOST_AIR = 0.6;
/** Air stops so far short of the pH's limit. */
const AIR_SHORT = 0.05;
