/** A mixed-integer linear programme, and how it is written for a solver. */

/** A sum of coefficient × variable, and a constant. */
export interface Linear {
  constant: number;
  terms: ReadonlyMap<string, number>;
}

export const linear = (constant: number, terms: Record<string, number> = {}): Linear => ({
  constant,
  terms: new Map(Object.entries(terms)),
});

/** a + factor × b */
export function plus(a: Linear, b: Linear, factor = 1): Linear {
  const terms = new Map(a.terms);
  for (const [name, value] of b.terms) terms.set(name, (terms.get(name) ?? 0) + factor * value);
  return { constant: a.constant + factor * b.constant, terms };
}

/** factor × a */
export const times = (a: Linear, factor: number): Linear => plus(linear(0), a, factor);

export interface Programme {
  cost: Linear;
  rows: { expression: Linear; sense: "<=" | ">=" | "="; right: number }[];
  bounds: Map<string, [low: number, high: number]>;
  binaries: string[];
}

/** Solves a programme written in CPLEX LP format; null when it has no solution. */
export type Solver = (programme: string) => ReadonlyMap<string, number> | null;

/** The programme with its yes and no taken as settled: what is left is linear, and quickly solved. */
export function withChoice(programme: Programme, values: ReadonlyMap<string, number>): Programme {
  const bounds = new Map(programme.bounds);
  for (const name of programme.binaries) {
    const is = (values.get(name) ?? 0) > 0.5 ? 1 : 0;
    bounds.set(name, [is, is]);
  }
  return { ...programme, bounds, binaries: [] };
}

/** Nine digits: more than any reading has, and few enough for the solver's own tolerance. */
const figure = (value: number): string => Number(value.toPrecision(12)).toString();

/** The expression's terms on one or more lines; those too small to matter are left out. */
function written({ terms }: Linear): string {
  const parts = [...terms]
    .filter(([, value]) => Math.abs(value) > 1e-13)
    .map(([name, value]) => `${value < 0 ? "-" : "+"} ${figure(Math.abs(value))} ${name}`);
  return parts.length > 0 ? parts.join("\n  ") : "0 nothing";
}

/** The programme in CPLEX LP format. */
export function lpText({ cost, rows, bounds, binaries }: Programme): string {
  const lines = ["Minimize", ` cost: ${written(cost)}`, "Subject To"];
  rows.forEach(({ expression, sense, right }, index) => {
    lines.push(` r${index}: ${written(expression)} ${sense} ${figure(right - expression.constant)}`);
  });
  lines.push("Bounds", " 0 <= nothing <= 0");
  for (const [name, [low, high]] of bounds)
    lines.push(
      ` ${low === -Infinity ? "-inf" : figure(low)} <= ${name} <= ${high === Infinity ? "+inf" : figure(high)}`,
    );
  if (binaries.length > 0) lines.push("Binary", ...binaries.map((name) => ` ${name}`));
  lines.push("End");
  return lines.join("\n");
}
