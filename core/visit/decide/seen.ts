import type { CommandBasis, VisitCommand } from "../commands";
import type { Fact } from "../facts";
import type { Written } from "../written";

/** Whether a command was given without knowing all that stands here. */
export const isUnaware = ({ version }: Pick<Written, "version">, seen: CommandBasis | undefined): boolean =>
  seen !== undefined && seen.version < version;

/**
 * Whether a device has decided a command already, by what it knew: what speaks against it here is then only
 * what it could not know. A count of what it knew does not tell that for sure: commands whose answer was
 * lost stand in what it was told and wait there too.
 */
export const isDecided = (seen: CommandBasis | undefined): seen is CommandBasis => seen !== undefined;

/**
 * What a device knows of a visit, for the commands that are given there.
 * @example seenOf(written).version // 1
 */
export const seenOf = (written: Written): CommandBasis => ({
  version: written.version,
  plans: written.plans.length,
  readings: written.readings.map(({ id }) => id),
  looked: written.look !== null,
  sampled: written.sampling !== null,
});

/** The fact of a command: by whom, and when. */
export const fact = <Kind extends Fact["kind"]>(
  { by, at }: Pick<VisitCommand, "by" | "at">,
  kind: Kind,
  rest: Omit<Extract<Fact, { kind: Kind }>, "kind" | "by" | "at">,
): Fact => ({ by, at, kind, ...rest }) as unknown as Fact;
