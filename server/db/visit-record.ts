import { millisecondsInDay } from "date-fns/constants";
import { type RawBuilder, sql } from "kysely";
import {
  type Between,
  type Brought,
  DOSE_DAYS,
  dayIn,
  type EarlierDose,
  type Finding,
  type Incident,
  InputFault,
  isPlantKind,
  isProductId,
  isQuantity,
  type KeptCount,
  type Kit,
  LABEL_DOSE_DAYS,
  LABELLED_IDS,
  type PlaceMark,
  type PlanContent,
  type PlanOrigin,
  type PlantReading,
  type Promised,
  QUANTITY_NAMES,
  type RangeSet,
  type ShelfBottle,
  type ShelfProduct,
  shiftAcross,
  type Untested,
  usualWork,
  type VisitDose,
  type VisitOutcome,
  type VisitPlan,
  type VisitStep,
  type WorkDone,
  type Written,
} from "#core";
import { accessFrom } from "./access";
import { type BasinRow, basinColumns, basinFrom } from "./basins";
import { asBottle, type BottleRow, bottlesQuery } from "./bottles";
import type { FirmScope } from "./connection";
import { type FirmRow, firmColumns, firmFrom } from "./firms";
import { kitVersions } from "./kits";
import { LEARNER_VERSION } from "./learned";
import { scattersQuery } from "./practised";
import { type ProductRow, productsQuery } from "./products";
import { rangeSetVersions } from "./range-sets";
import {
  changesQuery,
  newestColumns,
  newestQuery,
  type ReadingRow,
  readingColumns,
  readingFrom,
  SLOW_QUANTITIES,
} from "./readings";

import {
  type DefectRow,
  defectFrom,
  defectsBeforeQuery,
  defectsHereQuery,
  type JobBeforeRow,
  type JobRow,
  jobFrom,
  jobsBefore,
  jobsBeforeQuery,
  mendedHereQuery,
  type PlantBeforeRow,
  plantBeforeQuery,
  plantSeen,
} from "./visit-before";
import type { Visit } from "./visits";
import { workListFrom } from "./work";

/**
 * A visit as the core takes it, read in one statement: what it brought along, and what is written in it.
 * Kits and range sets that this process has seen stay out of the answer.
 */
export interface VisitRecord {
  brought: Brought;
  written: Written;
  /** The command that was asked about, when it was done before. */
  known: { memberId: string; digest: Buffer; answer: unknown } | null;
}

/** Takes a visit for the rest of the transaction: writes to one visit follow one another. */
export async function lockVisit(scope: FirmScope, firmId: string, id: string): Promise<void> {
  await sql`select pg_advisory_xact_lock(hashtextextended(${`${firmId} ${id}`}, 0))`.execute(scope);
}

/** Rows of a query as JSON; dates come as text. */
const rowsOf = (query: RawBuilder<unknown>) =>
  sql`(select coalesce(json_agg(row_to_json(one)), '[]'::json) from (${query}) as one)`;
const rowOf = (query: RawBuilder<unknown>) => sql`(select row_to_json(one) from (${query}) as one)`;

const ofVisit = (table: string) =>
  sql`${sql.ref(`${table}.firm_id`)} = visit.firm_id and ${sql.ref(`${table}.visit_id`)} = visit.id`;

interface Read {
  visit: Omit<Visit, "startedAt" | "finishedAt" | "bathing"> & {
    incidents: IncidentRow[] | null;
    jobs: JobRow[] | null;
    places: Partial<Record<"start" | "end", Omit<PlaceMark, "at"> & { at: string }>> | null;
    startedAt: string;
    finishedAt: string | null;
    feederSetting: number | null;
    untested: Untested | null;
    version: number;
  };
  firm: FirmRow;
  basin: BasinRow;
  kits: { id: string; line: string; newest: boolean; content: unknown }[];
  rangeSet: { id: string; content: unknown };
  readings: ReadingRow[];
  trail: (Omit<Written["trail"][number], "quantity" | "supersededAt"> & {
    quantity: string;
    supersededAt: string;
  })[];
  earlier: ReadingRow[];
  outLastTime: Finding[];
  dosesBefore: (Omit<EarlierDose, "product" | "givenAt"> & { compound: string; givenAt: string })[];
  bottles: BottleRow[];
  metalsSeen: boolean;
  learned: NonNullable<Brought["learned"]> | null;
  between: Between | null;
  scatters: NonNullable<Brought["scatters"]>;
  promises: Promised[] | null;
  changes: { quantity: string; before: number | null; now: number | null }[];
  products: ProductRow[];
  doses: (Omit<VisitDose, "givenAt"> & { givenAt: string })[];
  plans: {
    id: string;
    visitId: string;
    round: number;
    origin: string;
    name: string;
    content: PlanContent;
    begunAt: string;
    endedAt: string | null;
    whyEnded: string;
    settled: { position: number; state: VisitStep["state"]; why: string; at: string }[];
    outcomes: (Omit<VisitOutcome, "quantity"> & { quantity: string })[];
  }[];
  counts: (Omit<KeptCount, "keptAt"> & { methodId: string; keptAt: string })[];
  /** Of visits before, and not over. */
  incidentsBefore: IncidentRow[];
  photos: { id: string; takenAt: string; isHidden: boolean }[];
  work: (Omit<WorkDone, "at"> & { at: string })[];
  plant: (Omit<PlantReading, "at" | "kind"> & { kind: string; at: string })[];
  plantBefore: PlantBeforeRow[];
  jobsBefore: JobBeforeRow[];
  defectsBefore: DefectRow[];
  defects: DefectRow[];
  mended: string[];
  access: unknown;
  /** Null where the firm has none of its own. */
  workList: unknown;
  workBefore: { key: string; at: string }[];
  uses: Written["uses"];
  known: { memberId: string; digest: string; answer: unknown } | null;
}

/**
 * Reads a visit whole, for a member: of what people told of their own hands only theirs comes along.
 * @param kits versions of kits that are needed besides the visit's own and the newest
 * @param command id of a command that may have been done already
 * @returns undefined when this firm has no visit under that id
 */
export async function readVisit(
  scope: FirmScope,
  { id, memberId }: { id: string; memberId: string },
  now: Date,
  kits: readonly string[] = [],
  command: string | null = null,
): Promise<VisitRecord | undefined> {
  const known = lastRead.get(id) ?? [];
  const { rows } = await visitQuery(sql`visit`, { id, memberId }, now, kits, known, command).execute(scope);
  const [row] = rows;
  if (!row) return undefined;
  remember(id, row);
  return recordFrom(scope, row, kits);
}

/** The versions that came with a visit or a basin when it was last read: most are known when it is read again. */
const lastRead = new Map<string, string[]>();
const MOST = 500;

function remember(id: string, { rangeSet, kits }: Read): void {
  const [oldest] = lastRead.keys();
  if (lastRead.size >= MOST && oldest) lastRead.delete(oldest);
  lastRead.set(id, [rangeSet.id, ...kits.map((kit) => kit.id)]);
}

const READING_COLUMNS = sql`${readingColumns}, reading.late,
  (select name from member where member.id = reading.member_id) as "by"`;

/**
 * What a call at a basin would take along if it were begun now, under this id.
 * @returns undefined when this firm has no basin under that id
 */
export async function readBrought(
  scope: FirmScope,
  { id, basinId, memberId }: { id: string; basinId: string; memberId: string },
  now: Date,
): Promise<Brought | undefined> {
  const begun = sql`(
    select ${id}::uuid as id, basin.firm_id, basin.id as basin_id, ${memberId}::uuid as member_id, basin.kit_id,
      basin.range_set_id, basin.range_overrides, basin.litres, ${now}::timestamptz as started_at,
      null::timestamptz as finished_at, '' as note, null::jsonb as look, null::jsonb as sampling,
      null::jsonb as notices, null::jsonb as weather, null::jsonb as incidents, null::jsonb as jobs, null::jsonb as places,
      0 as version,
      null::double precision as feeder_setting, null::text as untested
    from basin where basin.id = ${basinId}) as visit`;
  const known = lastRead.get(basinId) ?? [];
  const { rows } = await visitQuery(begun, { id, memberId }, now, [], known, null).execute(scope);
  const [row] = rows;
  if (!row) return undefined;
  remember(basinId, row);
  return (await recordFrom(scope, row, [])).brought;
}

/** When somebody there gave a dose: as they said it, or by the end of the day that they said it of, told later. */
const givenThere = sql`least(card_entry.at, (card_entry.slot::date + 1)::timestamptz)`;

/** No visit has been under way for longer than this when its last dose goes in. */
const LONG_VISIT_DAYS = 100;

const visitQuery = (
  source: RawBuilder<unknown>,
  { id, memberId }: { id: string; memberId: string },
  now: Date,
  kits: readonly string[],
  read: readonly string[],
  command: string | null,
) => sql<Read>`
  select
    ${rowOf(sql`
      select visit.id, visit.basin_id as "basinId", visit.member_id as "memberId", member.name as "memberName",
        visit.kit_id as "kitId", visit.range_set_id as "rangeSetId", visit.litres, visit.started_at as "startedAt",
        visit.finished_at as "finishedAt", visit.note, visit.look, visit.sampling,
        visit.range_overrides as "rangeOverrides", visit.notices, visit.weather, visit.incidents, visit.jobs, visit.places, visit.version,
        visit.feeder_setting as "feederSetting", visit.untested
      from member where member.id = visit.member_id`)} as visit,
    ${rowOf(sql`select ${firmColumns} from firm`)} as firm,
    ${rowOf(sql`
      select ${basinColumns} from basin join site on site.firm_id = basin.firm_id and site.id = basin.site_id
      where basin.firm_id = visit.firm_id and basin.id = visit.basin_id`)} as basin,
    ${rowsOf(sql`
      select kit.id, kit.line, kit.version = (select max(other.version) from kit as other where other.line = kit.line) as newest,
        case when kit.id = any(${sql.val(kitVersions.known(read))}::uuid[]) then null else kit.content end as content
      from kit
      where kit.id = visit.kit_id or kit.id = any(${sql.val([...kits])}::uuid[])
        or kit.id in (select reading.kit_id from reading where ${ofVisit("reading")})
        or kit.version = (select max(other.version) from kit as other where other.line = kit.line)`)} as kits,
    ${rowOf(sql`
      select range_set.id,
        case when range_set.id = any(${sql.val(rangeSetVersions.known(read))}::uuid[]) then null else range_set.content end as content
      from range_set where range_set.id = visit.range_set_id`)} as "rangeSet",
    ${rowsOf(sql`
      select ${READING_COLUMNS} from reading
      where ${ofVisit("reading")} and reading.superseded_at is null`)} as readings,
    ${rowsOf(sql`
      select old.id, old.quantity, old.round, old.method_id as "methodId", old.value, member.name as "by",
        old.superseded_at as "supersededAt", corrector.name as "correctedBy", new.why
      from reading as old join member on member.id = old.member_id
      join reading as new on new.firm_id = old.firm_id and new.supersedes = old.id
      join member as corrector on corrector.id = new.member_id
      where ${ofVisit("old")} and old.superseded_at is not null
      order by old.superseded_at desc`)} as trail,
    ${rowsOf(newestQuery(newestColumns, sql`array[visit.basin_id]`, sql`visit.started_at`))} as earlier,
    (select coalesce(json_agg(finding.detail order by finding.position), '[]'::json) from finding
      where finding.firm_id = visit.firm_id and finding.visit_id = (
        select last.id from visit as last where last.firm_id = visit.firm_id and last.basin_id = visit.basin_id
          and last.finished_at is not null and last.untested is null and last.started_at < visit.started_at
        order by last.started_at desc limit 1)) as "outLastTime",
    ${rowsOf(sql`
      select product.compound, product.strength, dose.given_grams as grams, other.litres, dose.given_at as "givenAt"
      from visit as other cross join lateral (
        select * from dose where dose.firm_id = other.firm_id and dose.visit_id = other.id
          and dose.superseded_at is null and dose.given_grams > 0 offset 0
      ) as dose
      join product on product.firm_id = dose.firm_id and product.id = dose.product_id
      where other.firm_id = visit.firm_id and other.basin_id = visit.basin_id and other.id <> visit.id
        and other.started_at > ${now}::timestamptz - make_interval(days => ${sql.lit(LABEL_DOSE_DAYS + LONG_VISIT_DAYS)})
        and dose.given_at > ${now}::timestamptz - make_interval(days =>
          case when product.compound in (${sql.join(LABELLED_IDS.map((id) => sql.lit(id)))}) then ${sql.lit(LABEL_DOSE_DAYS)} else ${sql.lit(DOSE_DAYS)} end)
      union all
      select card.content ->> 'product', (card.content ->> 'strength')::double precision,
        (card.content ->> 'grams')::double precision, basin.litres, ${givenThere} as "givenAt"
      from card join card_entry on card_entry.firm_id = card.firm_id and card_entry.card_id = card.id
      join basin on basin.firm_id = card.firm_id and basin.id = card.basin_id
      where card.firm_id = visit.firm_id and card.basin_id = visit.basin_id
        and card_entry.kind = 'given' and card_entry.withdrawn_at is null
        and ${givenThere} > ${now}::timestamptz - make_interval(days => ${sql.lit(DOSE_DAYS)})
      order by "givenAt" desc`)} as "dosesBefore",
    ${rowsOf(
      bottlesQuery(sql`not exists (
      select from reading where reading.firm_id = reagent_use.firm_id and reading.id = reagent_use.reading_id
        and reading.visit_id = visit.id)`),
    )} as bottles,
    exists (
      select from reading where reading.firm_id = visit.firm_id and reading.basin_id = visit.basin_id
        and reading.quantity = 'calciumHardness' and reading.superseded_at is null and reading.used
        and (reading.observation ->> 'ahead')::numeric > 0) as "metalsSeen",
    ${scattersQuery(memberId)} as scatters,
    ${rowsOf(changesQuery(now))} as changes,
    (select json_build_object('habits', learned.content->'habits', 'forecast', learned.content->'forecast',
        'posterior', learned.content->'posterior', 'hold', learned.hold)
      from learned where learned.firm_id = visit.firm_id
      and learned.basin_id = visit.basin_id and learned.version = ${LEARNER_VERSION}) as learned,
    (select card.content from card where card.firm_id = visit.firm_id and card.basin_id = visit.basin_id
      and card.withdrawn_at is null) as between,
    (select plan.content->'ahead'->'promised' from plan
      where plan.firm_id = visit.firm_id and plan.visit_id = (
        select last.id from visit as last where last.firm_id = visit.firm_id and last.basin_id = visit.basin_id
          and last.finished_at is not null and last.untested is null and last.started_at < visit.started_at
        order by last.started_at desc limit 1)
      order by plan.round desc limit 1) as promises,
    ${rowsOf(productsQuery(sql`visit.member_id`))} as products,
    ${rowsOf(sql`
      select dose.id, dose.visit_id as "visitId", dose.product_id as "productId", dose.code,
        dose.planned_grams as "plannedGrams", dose.given_grams as "givenGrams", dose.given_at as "givenAt"
      from dose where ${ofVisit("dose")} and dose.superseded_at is null order by dose.given_at`)} as doses,
    ${rowsOf(sql`
      select plan.id, plan.visit_id as "visitId", plan.round, plan.origin, plan.name, plan.content,
        plan.begun_at as "begunAt", plan.ended_at as "endedAt", plan.why_ended as "whyEnded",
        ${rowsOf(sql`
          select plan_step.position, plan_step.state, plan_step.why, plan_step.at from plan_step
          where plan_step.firm_id = plan.firm_id and plan_step.plan_id = plan.id
            and plan_step.superseded_at is null order by plan_step.position`)} as settled,
        ${rowsOf(sql`
          select quantity, "before", promised, low, high, measured, ratio, verdict from plan_outcome
          where plan_outcome.firm_id = plan.firm_id and plan_outcome.plan_id = plan.id`)} as outcomes
      from plan where ${ofVisit("plan")} order by plan.round`)} as plans,
    ${rowsOf(sql`
      select method_id as "methodId", drops, ahead, idle, sample, holder, term, sequence, updated_at as "keptAt"
      from drop_count where ${ofVisit("drop_count")}`)} as counts,
    ${rowsOf(sql`
      select one.* from visit as other, jsonb_to_recordset(other.incidents) as
        one(id uuid, kind text, at text, by text, note text, over jsonb)
      where other.firm_id = visit.firm_id and other.basin_id = visit.basin_id and other.id <> visit.id
        and other.incidents is not null and coalesce(one.over, 'null') = 'null'
        and not exists (
          select from visit as later, jsonb_to_recordset(later.incidents) as ended(id uuid, over jsonb)
          where later.firm_id = visit.firm_id and later.basin_id = visit.basin_id and later.id <> visit.id
            and later.incidents is not null and ended.id = one.id and ended.over <> 'null')
      order by one.at`)} as "incidentsBefore",
    ${rowsOf(sql`
      select visit_work.id, visit_work.key, visit_work.name, visit_work.state, visit_work.why, visit_work.at,
        (select name from member where member.id = visit_work.member_id) as "by"
      from visit_work where ${ofVisit("visit_work")} and visit_work.superseded_at is null
      order by visit_work.at, visit_work.id`)} as work,
    ${rowsOf(sql`
      select plant_reading.id, plant_reading.kind, plant_reading.value, plant_reading.changed, plant_reading.at,
        (select name from member where member.id = plant_reading.member_id) as "by"
      from plant_reading where ${ofVisit("plant_reading")} and plant_reading.superseded_at is null
      order by plant_reading.at`)} as plant,
    ${rowsOf(plantBeforeQuery)} as "plantBefore",
    ${rowsOf(jobsBeforeQuery)} as "jobsBefore",
    ${rowsOf(defectsBeforeQuery)} as "defectsBefore",
    ${rowsOf(defectsHereQuery)} as defects,
    (${mendedHereQuery}) as mended,
    (select site_access.content from site_access, basin
      where basin.firm_id = visit.firm_id and basin.id = visit.basin_id and site_access.firm_id = visit.firm_id
        and site_access.site_id = basin.site_id) as access,
    (select work_list.content from work_list, basin
      where basin.firm_id = visit.firm_id and basin.id = visit.basin_id and work_list.kind = basin.kind
      order by work_list.version desc limit 1) as "workList",
    ${rowsOf(sql`
      select done.key, max(done.at) as at from visit as other cross join lateral (
        select visit_work.key, visit_work.at from visit_work
        where visit_work.firm_id = other.firm_id and visit_work.visit_id = other.id
          and visit_work.superseded_at is null and visit_work.state = 'done' offset 0
      ) as done
      where other.firm_id = visit.firm_id and other.basin_id = visit.basin_id and other.id <> visit.id
        and other.started_at < visit.started_at
      group by done.key`)} as "workBefore",
    ${rowsOf(sql`
      select photo.id, photo.taken_at as "takenAt", photo.removed_at is not null as "isHidden" from photo
      where ${ofVisit("photo")} order by photo.taken_at`)} as photos,
    ${rowsOf(sql`
      select reagent_use.reading_id as "readingId", reagent_use.reagent, reagent_use.bottle_id as "bottleId",
        reagent_use.amount
      from reading join reagent_use on reagent_use.firm_id = reading.firm_id and reagent_use.reading_id = reading.id
      where ${ofVisit("reading")}`)} as uses,
    ${rowOf(sql`
      select command.member_id as "memberId", encode(command.digest, 'hex') as digest, command.answer
      from command where command.id = ${command}::uuid`)} as known
  from ${source} where visit.id = ${id}`;

const date = (text: string): Date => new Date(text);

/** An incident as JSON has it. */
type IncidentRow = Omit<Incident, "at" | "over"> & {
  at: string;
  over: (Omit<NonNullable<Incident["over"]>, "at"> & { at: string }) | null;
};

const incidentFrom = ({ at, over, ...incident }: IncidentRow): Incident => ({
  ...incident,
  at: date(at),
  over: over && { ...over, at: date(over.at) },
});

async function recordFrom(scope: FirmScope, row: Read, kits: readonly string[]): Promise<VisitRecord> {
  const {
    startedAt,
    finishedAt,
    note,
    look,
    sampling,
    notices,
    weather,
    incidents,
    jobs,
    places,
    version,
    feederSetting,
    untested,
    ...visit
  } = row.visit;
  const firm = firmFrom(row.firm);
  const basin = basinFrom(row.basin);
  const bottles: ShelfBottle[] = row.bottles.map(asBottle);
  const products: ShelfProduct[] = row.products.flatMap(({ compound, ...product }) =>
    isProductId(compound) ? [{ ...product, product: compound }] : [],
  );
  return {
    known: row.known && { ...row.known, digest: Buffer.from(row.known.digest, "hex") },
    brought: {
      visit: { ...visit, startedAt: date(startedAt) },
      firm,
      basin,
      ...(await kitsIn(scope, row, kits)),
      rangeSet: (await rangeSetVersions.taken(row.rangeSet)) satisfies RangeSet,
      earlier: row.earlier.flatMap(readingFrom),
      outLastTime: row.outLastTime.map(({ quantity }) => quantity),
      dosesBefore: row.dosesBefore.flatMap(({ compound, givenAt, ...dose }) =>
        isProductId(compound) ? [{ ...dose, product: compound, givenAt: date(givenAt) }] : [],
      ),
      bottles,
      metalsSeen: row.metalsSeen,
      shifts: shiftsIn(row.changes),
      products,
      learned: row.learned,
      between: row.between,
      scatters: row.scatters,
      incidents: row.incidentsBefore.map(incidentFrom),
      promised: promiseFor(row.promises ?? [], date(startedAt)),
      plantBefore: plantSeen(row.plantBefore, row.earlier, basin),
      jobs: row.jobsBefore.map(jobsBefore),
      defects: row.defectsBefore.map(defectFrom),
      access: row.access === null ? null : accessFrom(row.access),
      work: {
        list: row.workList === null ? usualWork(basin.kind) : workListFrom(row.workList),
        lastDone: Object.fromEntries(
          row.workBefore.map(({ key, at }) => [key, dayIn(date(at), firm.timeZone)]),
        ),
      },
    },
    written: {
      version,
      look,
      sampling,
      note,
      finishedAt: finishedAt === null ? null : date(finishedAt),
      notices,
      weather,
      feederSetting,
      untested,
      plant: row.plant.flatMap(({ kind, at, ...one }) =>
        isPlantKind(kind) ? [{ ...one, kind, at: date(at) }] : [],
      ),
      work: row.work.map(({ at, ...one }) => ({ ...one, at: date(at) })),
      incidents: (incidents ?? []).map(incidentFrom),
      jobs: (jobs ?? []).map(jobFrom),
      places: places && {
        ...(places.start ? { start: { ...places.start, at: date(places.start.at) } } : {}),
        ...(places.end ? { end: { ...places.end, at: date(places.end.at) } } : {}),
      },
      defects: row.defects.map(defectFrom).map(({ visitId: _, quote: __, ...defect }) => defect),
      mended: row.mended,
      readings: row.readings
        .flatMap(readingFrom)
        .sort((a, b) => QUANTITY_NAMES.indexOf(a.quantity) - QUANTITY_NAMES.indexOf(b.quantity)),
      trail: row.trail.flatMap(({ quantity, supersededAt, ...old }) =>
        isQuantity(quantity) ? [{ ...old, quantity, supersededAt: date(supersededAt) }] : [],
      ),
      doses: row.doses.map(({ givenAt, ...dose }) => ({ ...dose, givenAt: date(givenAt) })),
      plans: row.plans.map(planFrom),
      counts: Object.fromEntries(
        row.counts.map(({ methodId, keptAt, ...state }) => [methodId, { ...state, keptAt: date(keptAt) }]),
      ),
      photos: row.photos.flatMap(({ id, takenAt, isHidden }) =>
        isHidden ? [] : [{ id, takenAt: date(takenAt) }],
      ),
      hiddenPhotos: row.photos.flatMap(({ id, isHidden }) => (isHidden ? [id] : [])),
      uses: row.uses,
    },
  };
}

/** What was promised for one call says nothing of another. */
const SAME_CALL = 1.5 * millisecondsInDay;

/** The promise for the call that is nearest to a visit. */
function promiseFor(promises: readonly Promised[], startedAt: Date): Promised | null {
  const off = ({ at }: Promised) => Math.abs(at - startedAt.getTime());
  const nearest = promises.reduce<Promised | null>(
    (best, one) => (best === null || off(one) < off(best) ? one : best),
    null,
  );
  return nearest && off(nearest) <= SAME_CALL ? nearest : null;
}

const planFrom = ({
  begunAt,
  endedAt,
  settled,
  outcomes,
  origin,
  ...plan
}: Read["plans"][number]): VisitPlan => ({
  ...plan,
  origin: origin as PlanOrigin,
  begunAt: date(begunAt),
  endedAt: endedAt === null ? null : date(endedAt),
  settled: settled.map((step) => ({ ...step, at: date(step.at) })),
  outcomes: outcomes.flatMap(({ quantity, ...outcome }) =>
    isQuantity(quantity) ? [{ ...outcome, quantity }] : [],
  ),
});

/** The visit's own kit first, then the newest of the others; apart from them, what was asked for or read with. */
async function kitsIn(
  scope: FirmScope,
  { visit, kits, earlier }: Read,
  asked: readonly string[],
): Promise<Pick<Brought, "kits" | "olderKits">> {
  for (const id of asked)
    if (!kits.some((one) => one.id === id)) throw new InputFault("unknown", "kitId", id);
  const taken: { id: string; kit: Kit; newest: boolean }[] = [];
  for (const one of kits) taken.push({ id: one.id, newest: one.newest, kit: await kitVersions.taken(one) });
  // What was read before may be of a version that nothing else names any more; it is read once and known then.
  for (const id of new Set(earlier.map(({ kit_id }) => kit_id)))
    if (!taken.some((one) => one.id === id))
      taken.push({ id, newest: false, kit: await kitVersions.contentOf(scope, id) });
  const plain = (some: typeof taken) => some.map(({ id, kit }) => ({ id, kit }));
  const others = taken.filter(({ id }) => id !== visit.kitId);
  const newest = others.filter((one) => one.newest).sort((a, b) => a.kit.name.localeCompare(b.kit.name));
  return {
    kits: plain([...taken.filter(({ id }) => id === visit.kitId), ...newest]),
    olderKits: plain(others.filter((one) => !one.newest)),
  };
}

/** Where slow readings moved the same way at most basins at once. */
function shiftsIn(changes: Read["changes"]): Brought["shifts"] {
  return Object.fromEntries(
    SLOW_QUANTITIES.flatMap((quantity) => {
      const pairs = changes.flatMap((one) =>
        one.quantity === quantity && one.before !== null && one.now !== null
          ? [{ before: one.before, now: one.now }]
          : [],
      );
      const shift = shiftAcross(pairs);
      return shift ? [[quantity, shift]] : [];
    }),
  );
}
