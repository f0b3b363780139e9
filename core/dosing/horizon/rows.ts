import { type Linear, linear, type Programme, plus } from "../plan/programme";

/** Variables and rows of a programme, gathered one after another. */
export class Rows {
  readonly bounds = new Map<string, [number, number]>();
  readonly binaries: string[] = [];
  readonly rows: Programme["rows"] = [];
  private readonly prices = new Map<string, number>();
  private slacks = 0;

  variable(name: string, low: number, high: number, price = 0): Linear {
    this.bounds.set(name, [low, high]);
    if (price !== 0) this.prices.set(name, (this.prices.get(name) ?? 0) + price);
    return linear(0, { [name]: 1 });
  }

  row(expression: Linear, sense: "<=" | ">=" | "=", right = 0): void {
    this.rows.push({ expression, sense, right });
  }

  /** Holds an expression above a limit, at a price for each `scale` that it falls short. */
  above(expression: Linear, limit: Linear, scale: number, price: number): void {
    const slack = this.variable(`s${this.slacks++}`, 0, Number.POSITIVE_INFINITY, price);
    this.row(plus(plus(expression, limit, -1), slack, scale), ">=");
  }

  near(expression: Linear, aim: Linear, scale: number, price: number): void {
    this.above(expression, aim, scale, price);
    this.above(aim, expression, scale, price);
  }

  programme(): Programme {
    return {
      cost: linear(0, Object.fromEntries(this.prices)),
      rows: this.rows,
      bounds: this.bounds,
      binaries: this.binaries,
    };
  }
}

/** Grams of a product for a litre at a call, and whether its bottle is opened today. */
export const xName = (call: number, product: number): string => `x${call}_${product}`;
export const yName = (product: number): string => `y${product}`;
