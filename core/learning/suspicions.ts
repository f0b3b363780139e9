import { millisecondsInDay } from "date-fns/constants";
import type { BasinLearner, Jump } from "./basin-learner";
import type { Shared } from "./belief";
import type { BasinLog, FirmLog } from "./log";
import type { Lot, Lots } from "./lots";
import { type LotEvidence, POPULATIONS, type Suspicion, TOLD_FROM, unwritten, weigh } from "./weigh";

/** A bottle that was not used for so long is gone. */
const GONE_DAYS = 60;

/** What in a firm's book its logs speak against: volumes, bottles, deliveries, and what nobody wrote down. */
export function suspicionsOf(
  firm: FirmLog,
  learners: readonly BasinLearner[],
  shared: Shared,
  lots: Lots,
): Suspicion[] {
  const found: Suspicion[] = [];
  learners.forEach((learner, index) => {
    const basin = (firm.basins[index] as BasinLog).id;
    const volume = learner.volume(shared);
    if (!volume) return;
    const { ratio, chance } = weigh(volume, volume.prior, POPULATIONS.volume);
    if (chance > TOLD_FROM) found.push({ code: "volume", basin, ratio, chance });
    found.push(...unwrittenAt(basin, learner));
  });
  const end = Math.max(0, ...learners.map(({ at }) => at));
  for (const { code, name, last, mean, variance, prior } of lots.all()) {
    // An empty bottle was told of while it was full.
    if (code === "bottle" && end - last > GONE_DAYS * millisecondsInDay) continue;
    const { ratio, chance } = weigh({ mean, variance }, prior, POPULATIONS[code]);
    if (chance > TOLD_FROM)
      found.push({
        code,
        lot: name,
        ratio,
        chance,
        evidence: evidenceOf(code, name, firm, learners),
      });
  }
  return found;
}

/** Readings that are kept as evidence, the newest. */
const MOST_EVIDENCE = 80;

function evidenceOf(
  code: Lot["code"],
  lot: string,
  firm: FirmLog,
  learners: readonly BasinLearner[],
): LotEvidence[] {
  return learners
    .flatMap(({ uses }, index) =>
      uses.flatMap((use) =>
        use.code === code && use.lot === lot
          ? [{ basin: (firm.basins[index] as BasinLog).id, at: use.at, ratio: use.ratio }]
          : [],
      ),
    )
    .sort((a, b) => a.at - b.at)
    .slice(-MOST_EVIDENCE);
}

/** What nobody wrote down at a basin: of each visit that tells of something, the reading that does so most plainly. */
function unwrittenAt(basin: string, { jumps }: BasinLearner): Suspicion[] {
  const byVisit = new Map<number, Jump>();
  for (const jump of jumps) {
    // Chlorine that is gone was not taken out by somebody: a feeder stood still, or there was a party.
    if (jump.quantity === "freeChlorine" && jump.found < jump.expected) continue;
    const most = byVisit.get(jump.at);
    if (!most || Math.abs(jump.deviations) > Math.abs(most.deviations)) byVisit.set(jump.at, jump);
  }
  return [...byVisit.values()].flatMap(({ at, quantity, expected, found, deviations }) => {
    if (expected <= 0) return [];
    const told = unwritten(found, expected, Math.abs((found - expected) / deviations));
    return told.chance > TOLD_FROM
      ? [{ code: "unwritten" as const, basin, quantity, at, expected, ...told }]
      : [];
  });
}
