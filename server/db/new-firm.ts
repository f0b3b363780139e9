import { v7 as uuid } from "uuid";
import {
  BALANCING_IDS,
  HELD_BY_HOCL_SET,
  OUTDOOR_FIXED_BAND,
  PRODUCTS,
  type ProductId,
  PUBLIC_CODE_SET,
  SALT_CELL_SET,
  SHIPPED_KITS,
  SPA_WARM_WATER,
  TRAITS,
  type UnitSystem,
} from "#core";
import { hashPassword } from "../auth/passwords";
import { asFirm, type Database } from "./connection";
import { maySetUp } from "./instance";

/** A firm is there already, and only the first was to be made. */
export class NotTheFirst extends Error {}

export interface NewFirm {
  /** Made only where nobody's own firm is there, whatever comes at the same time. */
  onlyFirst?: boolean;
  name: string;
  timeZone: string;
  units: UnitSystem;
  /** Of its prices, ISO 4217; the dollar when it is left out. */
  currency?: string;
  owner: { id?: string; name: string; email: string; password: string };
  /** What a product is called on the shelf until somebody names it. */
  productName: (id: ProductId, strength: number) => string;
}

/**
 * Makes a firm with its owner, the shipped kits and range sets, and every product at its usual strength.
 * @returns its id, or null when the owner's address belongs to somebody already
 * @throws NotTheFirst
 */
export async function makeFirm(db: Database, firm: NewFirm): Promise<string | null> {
  const firmId = uuid();
  const password_hash = await hashPassword(firm.owner.password);
  const versions = (contents: object[]) =>
    contents.map((content) => {
      const id = uuid();
      return { id, firm_id: firmId, version: 1, line: id, content: JSON.stringify(content) };
    });
  try {
    await asFirm(db, firmId, async (scope) => {
      if (firm.onlyFirst && !(await maySetUp(scope))) throw new NotTheFirst();
      await scope
        .insertInto("firm")
        .values({
          id: firmId,
          name: firm.name,
          unit_system: firm.units,
          time_zone: firm.timeZone,
          ...(firm.currency ? { currency: firm.currency } : {}),
        })
        .execute();
      await scope
        .insertInto("member")
        .values({
          id: firm.owner.id ?? uuid(),
          firm_id: firmId,
          email: firm.owner.email.trim().toLowerCase(),
          name: firm.owner.name,
          role: "owner",
          password_hash,
        })
        .execute();
      await scope
        .insertInto("kit")
        .values(versions([...SHIPPED_KITS]))
        .execute();
      await scope
        .insertInto("range_set")
        .values(
          versions([OUTDOOR_FIXED_BAND, SPA_WARM_WATER, PUBLIC_CODE_SET, SALT_CELL_SET, HELD_BY_HOCL_SET]),
        )
        .execute();
      await scope
        .insertInto("product")
        .values(
          BALANCING_IDS.map((compound, position) => ({
            id: uuid(),
            firm_id: firmId,
            compound,
            name: firm.productName(compound, PRODUCTS[compound].strength),
            strength: PRODUCTS[compound].strength,
            density: PRODUCTS[compound].density,
            planned: !TRAITS[compound].stabilised,
            position,
          })),
        )
        .execute();
    });
  } catch (fault) {
    if ((fault as { constraint?: string }).constraint === "member_sign_in") return null;
    throw fault;
  }
  return firmId;
}
