import { sql } from "kysely";
import {
  type CardContent,
  type CardEntry,
  InputFault,
  isProductId,
  isUnitSystem,
  type UnitSystem,
} from "#core";
import { hashOf, newToken } from "../auth/tokens";
import type { Author } from "../author";
import { note } from "./audit";
import { claim } from "./commands";
import { asGate, type Database, type FirmScope } from "./connection";
import { anyOf } from "./prepared";

/** Cards by the water: a dose between the calls, and what the people there say of it. */

export interface Card extends CardContent {
  id: string;
  basinId: string;
  madeAt: Date;
  madeBy: string;
  withdrawnAt: Date | null;
}

const select = (scope: FirmScope) =>
  scope
    .selectFrom("card")
    .innerJoin("member", "member.id", "card.made_by")
    .select([
      "card.id",
      "card.basin_id as basinId",
      "card.content",
      "card.made_at as madeAt",
      "card.withdrawn_at as withdrawnAt",
      "member.name as madeBy",
    ]);

type CardRow = Awaited<ReturnType<ReturnType<typeof select>["execute"]>>[number];

function cardFrom({ content, ...row }: CardRow): Card {
  const { product, strength, grams, everyDays, language = null } = content as unknown as CardContent;
  if (!isProductId(product)) throw new Error(`unknown product on a card: ${product}`);
  return { ...row, product, strength, grams, everyDays, language };
}

/** The card that hangs at a basin; null where none does. */
export async function cardOf(scope: FirmScope, basinId: string): Promise<Card | null> {
  const row = await select(scope)
    .where("card.basin_id", "=", basinId)
    .where("card.withdrawn_at", "is", null)
    .executeTakeFirst();
  return row ? cardFrom(row) : null;
}

/** Every card that hung somewhere since a day, the oldest first. */
export const cardsSince = async (scope: FirmScope, since: Date): Promise<Card[]> =>
  (
    await select(scope)
      .where((where) =>
        where.or([where("card.withdrawn_at", "is", null), where("card.withdrawn_at", ">=", since)]),
      )
      .orderBy("card.made_at")
      .execute()
  ).map(cardFrom);

/**
 * Makes a card and takes down the one that hung there. Its token is told once, here; the same key again makes a
 * new token of it.
 */
export async function makeCard(
  scope: FirmScope,
  author: Author,
  { id, basinId, name, ...content }: { id: string; basinId: string; name: string } & CardContent,
): Promise<string> {
  await claim(scope, author, id, ["card", { basinId, ...content }]);
  const token = newToken();
  await scope
    .updateTable("card")
    .set({ withdrawn_at: author.now })
    .where("basin_id", "=", basinId)
    .where("id", "<>", id)
    .where("withdrawn_at", "is", null)
    .execute();
  await scope
    .insertInto("card")
    .values({
      id,
      firm_id: author.firmId,
      basin_id: basinId,
      token_hash: hashOf(token),
      content: JSON.stringify(content),
      made_by: author.memberId,
      made_at: author.now,
    })
    .onConflict((conflict) => conflict.column("id").doUpdateSet({ token_hash: hashOf(token) }))
    .execute();
  await note(scope, author, "card-made", basinId, { name, ...content });
  return token;
}

export async function withdrawCard(
  scope: FirmScope,
  author: Author,
  { basinId, name }: { basinId: string; name: string },
): Promise<void> {
  const done = await scope
    .updateTable("card")
    .set({ withdrawn_at: author.now })
    .where("basin_id", "=", basinId)
    .where("withdrawn_at", "is", null)
    .executeTakeFirst();
  if (Number(done.numUpdatedRows) > 0) await note(scope, author, "card-withdrawn", basinId, { name });
}

/** A card as the people at its basin see it. */
export interface CardPage {
  card: CardContent & { madeAt: Date };
  basin: { name: string; kind: string };
  firm: { name: string; units: UnitSystem; timeZone: string };
  /** When it was called at lately, and ended. */
  calls: Date[];
  entries: CardEntry[];
}

/** How far back a card looks for calls. Days */
const CALLS_DAYS = 60;

/** What a card's holder sees; undefined where it was withdrawn meanwhile. */
export async function cardPage(scope: FirmScope, cardId: string): Promise<CardPage | undefined> {
  const { rows } = await sql<{
    content: CardContent;
    madeAt: Date;
    basin: CardPage["basin"];
    firm: { name: string; unit_system: string; time_zone: string };
    calls: string[];
  }>`
    select card.content, card.made_at as "madeAt",
      json_build_object('name', basin.name, 'kind', basin.kind) as basin,
      json_build_object('name', firm.name, 'unit_system', firm.unit_system, 'time_zone', firm.time_zone) as firm,
      coalesce((
        select json_agg(visit.started_at order by visit.started_at) from visit
        where visit.firm_id = card.firm_id and visit.basin_id = card.basin_id and visit.finished_at is not null
          and visit.started_at > now() - make_interval(days => ${sql.lit(CALLS_DAYS)})), '[]'::json) as calls
    from card join basin on basin.firm_id = card.firm_id and basin.id = card.basin_id
    join firm on firm.id = card.firm_id
    where card.id = ${cardId}`.execute(scope);
  const [row] = rows;
  if (!row) return undefined;
  const { content, madeAt, basin, firm, calls } = row;
  return {
    card: { ...content, madeAt },
    basin,
    firm: {
      name: firm.name,
      units: isUnitSystem(firm.unit_system) ? firm.unit_system : "us",
      timeZone: firm.time_zone,
    },
    calls: calls.map((at) => new Date(at)),
    entries: await entriesOf(scope, [cardId]),
  };
}

/** Which firm's card a token opens; null when it is unknown or withdrawn. */
export async function openedCard(
  db: Database,
  token: string,
): Promise<{ firmId: string; basinId: string; cardId: string } | null> {
  const row = await asGate(db, (scope) =>
    scope
      .selectFrom("card")
      .select(["firm_id as firmId", "basin_id as basinId", "id as cardId"])
      .where("token_hash", "=", hashOf(token))
      .where("withdrawn_at", "is", null)
      .executeTakeFirst(),
  );
  return row ?? null;
}

/** What was said of a card, the oldest first. */
export async function entriesOf(
  scope: FirmScope,
  cardIds: readonly string[],
): Promise<(CardEntry & { cardId: string })[]> {
  if (cardIds.length === 0) return [];
  const rows = await scope
    .selectFrom("card_entry")
    .select(["card_id as cardId", "kind", "slot", "at", "content"])
    .where("card_id", "=", anyOf(cardIds))
    .where("withdrawn_at", "is", null)
    .orderBy("at")
    .execute();
  return rows.map(({ kind, at, content, ...row }) => ({
    ...row,
    kind: kind as CardEntry["kind"],
    at: at.getTime(),
    read: content as CardEntry["read"],
  }));
}

/** No card takes more than this of what is said of it: a link that got about fills no table. */
const MOST_ENTRIES = 4000;

/**
 * Keeps what somebody there said: of a dose once, however often they tap; of a strip the newest of its day.
 * @throws InputFault once a card is full
 */
export async function keepEntry(
  scope: FirmScope,
  { firmId, cardId, id, now }: { firmId: string; cardId: string; id: string; now: Date },
  entry: Omit<CardEntry, "at">,
): Promise<void> {
  await sql`select pg_advisory_xact_lock(hashtextextended(${`card ${cardId}`}, 0))`.execute(scope);
  const { count } = await scope
    .selectFrom("card_entry")
    .select(({ fn }) => fn.countAll<string>().as("count"))
    .where("card_id", "=", cardId)
    .executeTakeFirstOrThrow();
  if (Number(count) >= MOST_ENTRIES) throw new InputFault("too-high", "entries", Number(count), MOST_ENTRIES);
  if (entry.kind === "strip") await takeBack(scope, cardId, entry, now);
  await scope
    .insertInto("card_entry")
    .values({
      id,
      firm_id: firmId,
      card_id: cardId,
      kind: entry.kind,
      slot: entry.slot,
      at: now,
      content: JSON.stringify(entry.read),
    })
    .onConflict((conflict) => conflict.doNothing())
    .execute();
}

/** Takes back what was said of a dose or a day. */
export async function takeBack(
  scope: FirmScope,
  cardId: string,
  { kind, slot }: Pick<CardEntry, "kind" | "slot">,
  now: Date,
): Promise<void> {
  await scope
    .updateTable("card_entry")
    .set({ withdrawn_at: now })
    .where("card_id", "=", cardId)
    .where("kind", "=", kind)
    .where("slot", "=", slot)
    .where("withdrawn_at", "is", null)
    .execute();
}
