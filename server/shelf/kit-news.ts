import { isDeepStrictEqual } from "node:util";
import { type Kit, type Method, SHIPPED_KITS } from "#core";
import type { KitOnShelf } from "../db/kits";

/** What ships now and a firm does not have: a kit, or tests of one. */
export interface KitNews {
  /** The kit that it goes on with; null for one that the firm does not have. */
  line: string | null;
  basedOn: number | null;
  /** The kit as it would be saved. */
  kit: Kit;
  added: Method[];
  /** Tests that are worked otherwise now. */
  changed: Method[];
}

/**
 * The newer editions of the kits that ship. A kit that the firm has edited keeps every test that it has: only what
 * is new is added to it.
 */
export function kitNews(kits: readonly KitOnShelf[]): KitNews[] {
  return SHIPPED_KITS.flatMap((edition): KitNews[] => {
    const own = kits.find(({ kit }) => kit.name === edition.name);
    if (!own) return [{ line: null, basedOn: null, kit: edition, added: edition.methods, changed: [] }];
    const has = (method: Method) => own.kit.methods.find(({ id }) => id === method.id);
    const added = edition.methods.filter((method) => !has(method));
    const isOurs = own.by === null;
    const changed = isOurs
      ? edition.methods.filter((method) => has(method) && !isDeepStrictEqual(has(method), method))
      : [];
    if (added.length + changed.length === 0) return [];
    const kit = isOurs ? edition : { ...own.kit, methods: [...own.kit.methods, ...added] };
    return [{ line: own.line, basedOn: own.version, kit, added, changed }];
  });
}
