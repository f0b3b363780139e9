import { SANITISERS, type Sanitiser } from "../measure/sanitiser";
import { SURFACES, type Surface } from "../ranges/range-set";
import type { Place } from "../water/stand-ins";
import { fieldsOf, flagOf, givenOr, oneOf, onlyKeys } from "./fields";
import { type Fields, isGiven } from "./verb";

const KINDS = ["pool", "spa"] as const;
const DEFAULTS = { kind: "pool", surface: "plaster", outdoors: true } as const;

/** A basin out of a line: what it is and where; its litres are read by whoever needs them. */
export function basinFrom(value: unknown): {
  place: Place;
  surface: Surface;
  sanitiser: Sanitiser | null;
  fields: Fields;
} {
  const fields = fieldsOf("basin", value);
  onlyKeys("basin.", fields, ["litres", "kind", "surface", "outdoors", "sanitiser"]);
  return {
    place: {
      kind: oneOf("basin.kind", givenOr(fields, "kind", DEFAULTS.kind), KINDS),
      outdoors: flagOf("basin.outdoors", fields.outdoors, DEFAULTS.outdoors),
    },
    sanitiser: isGiven(fields, "sanitiser") ? oneOf("basin.sanitiser", fields.sanitiser, SANITISERS) : null,
    surface: oneOf("basin.surface", givenOr(fields, "surface", DEFAULTS.surface), SURFACES),
    fields,
  };
}

/** JSON Schema of a basin's own facts. */
export const basinProperties = {
  kind: { enum: KINDS, default: DEFAULTS.kind },
  surface: { enum: SURFACES, default: DEFAULTS.surface },
  sanitiser: {
    enum: SANITISERS,
    description: "bromine where bromine was read and no free chlorine, else chlorine",
  },
  outdoors: {
    type: "boolean",
    default: DEFAULTS.outdoors,
    description: "stabiliser has a use only in a pool under the sun",
  },
} as const;
