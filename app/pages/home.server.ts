import { reading } from "#server/db/batch";
import type { FirmScope } from "#server/db/connection";
import { firmOf, isDemo } from "#server/db/firms";
import type { SignedIn } from "#server/db/sessions";

/** Who is signed in, in what they read amounts, and what their firm pays in. */
export async function homePage(scope: FirmScope, { memberId, name, role, units }: SignedIn) {
  const [firm, demo] = await reading(scope, (reads) => Promise.all([firmOf(reads), isDemo(reads)]));
  return {
    firm: firm.name,
    memberId,
    member: name,
    role,
    units: units ?? firm.units,
    timeZone: firm.timeZone,
    currency: firm.currency,
    scaleStep: firm.scaleStep,
    demo,
  };
}
