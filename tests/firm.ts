import { v7 as uuid } from "uuid";
import { BALANCING_IDS, INSTRUMENT_KIT, OUTDOOR_FIXED_BAND, PRODUCTS, STRIP_KIT, TITRATION_KIT } from "#core";
import { hashPassword } from "#server/auth/passwords";
import { asFirm, type Database } from "#server/db/connection";

export interface Firm {
  id: string;
  memberId: string;
  ownerId: string;
  basinId: string;
  kitId: string;
  stripKitId: string;
  instrumentKitId: string;
  rangeSetId: string;
  email: string;
  ownerEmail: string;
}

export const PASSWORD = "a long enough password";

/** Made slow on purpose: once for all firms. */
let passwordHash: Promise<string> | undefined;

/** A small firm with an owner, a technician, one 10 000 L plaster pool called at every day. */
export async function newFirm(db: Database, name: string): Promise<Firm> {
  const firm: Firm = {
    id: uuid(),
    memberId: uuid(),
    ownerId: uuid(),
    basinId: uuid(),
    kitId: uuid(),
    stripKitId: uuid(),
    instrumentKitId: uuid(),
    rangeSetId: uuid(),
    email: `tech@${name}.example`,
    ownerEmail: `owner@${name}.example`,
  };
  const siteId = uuid();
  passwordHash ??= hashPassword(PASSWORD);
  const hash = await passwordHash;
  await asFirm(db, firm.id, async (scope) => {
    const firm_id = firm.id;
    await scope.insertInto("firm").values({ id: firm_id, name }).execute();
    await scope
      .insertInto("member")
      .values([
        {
          id: firm.memberId,
          firm_id,
          email: firm.email,
          name: "Tech",
          role: "technician",
          password_hash: hash,
        },
        {
          id: firm.ownerId,
          firm_id,
          email: firm.ownerEmail,
          name: "Owner",
          role: "owner",
          password_hash: hash,
        },
      ])
      .execute();
    await scope
      .insertInto("site")
      .values({ id: siteId, firm_id, name: "Site", fill_hardness: 100 })
      .execute();
    const kit = (id: string, content: object) => ({
      id,
      firm_id,
      version: 1,
      line: id,
      content: JSON.stringify(content),
    });
    await scope
      .insertInto("kit")
      .values([
        kit(firm.kitId, TITRATION_KIT),
        kit(firm.stripKitId, STRIP_KIT),
        kit(firm.instrumentKitId, INSTRUMENT_KIT),
      ])
      .execute();
    await scope
      .insertInto("range_set")
      .values({
        id: firm.rangeSetId,
        firm_id,
        version: 1,
        line: firm.rangeSetId,
        content: JSON.stringify(OUTDOOR_FIXED_BAND),
      })
      .execute();
    await scope
      .insertInto("product")
      .values(
        BALANCING_IDS.map((compound, position) => ({
          id: uuid(),
          firm_id,
          compound,
          name: compound,
          strength: PRODUCTS[compound].strength,
          density: PRODUCTS[compound].density,
          position,
        })),
      )
      .execute();
    await scope
      .insertInto("basin")
      .values({
        id: firm.basinId,
        firm_id,
        site_id: siteId,
        name: "Pool",
        kind: "pool",
        surface: "plaster",
        litres: 10_000,
        kit_id: firm.kitId,
        range_set_id: firm.rangeSetId,
        call_days: [1, 2, 3, 4, 5, 6, 7],
      })
      .execute();
  });
  return firm;
}
