import { type RawBuilder, sql } from "kysely";
import { v7 as uuid } from "uuid";
import { type Fact, type Finding, type Written, withFacts } from "#core";
import type { NamedAuthor } from "../author";
import { type CommandRow, commandInsert } from "./commands";
import type { FirmScope } from "./connection";
import type { VisitRecord } from "./visit-record";

/** What a command added to a visit, written in one statement: each part is a piece of it, named by its table. */

/** A picture that was checked, to be kept with the fact of it. */
export interface PhotoBytes {
  id: string;
  kind: string;
  bytes: Buffer;
}

type Of<Kind extends Fact["kind"]> = Extract<Fact, { kind: Kind }>;

/** Rows of parameters as a table; an empty list makes no part of the statement. */
const rows = (list: readonly object[], columns: string) =>
  sql`jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as one(${sql.raw(columns)})`;

/** Parts of one statement run in no order of their own: this one waits for those that make room for it. */
const after = (...parts: (string | null)[]) =>
  sql.join(
    parts
      .flatMap((part) => (part ? [sql`(select count(*) from ${sql.ref(part)}) >= 0`] : []))
      .concat(sql`true`),
    sql` and `,
  );

interface Part {
  name: string;
  query: RawBuilder<unknown>;
}

/**
 * Writes facts into the tables of a visit, with the command that brought them.
 * @param command null for a count, which may come twice without harm
 */
export async function writeFacts(
  scope: FirmScope,
  { brought, written: before }: VisitRecord,
  facts: readonly Fact[],
  author: NamedAuthor,
  command: CommandRow | null,
  photo: PhotoBytes | null = null,
): Promise<void> {
  const standing = withFacts(before, facts);
  const all = <Kind extends Fact["kind"]>(kind: Kind) =>
    facts.filter((fact): fact is Of<Kind> => fact.kind === kind);
  const of: Writing = {
    firmId: author.firmId,
    visitId: brought.visit.id,
    receivedAt: author.now,
    before,
    standing,
  };
  const parts: Part[] = [
    ...(command ? [{ name: "told", query: commandInsert(command) }] : []),
    ...visitParts(of, facts),
    ...readingParts(of, all("read")),
    ...outcomeParts(of, all("kept-promise")),
    ...doseParts(of, all("gave")),
    ...planParts(of, all("planned"), all("stopped")),
    ...stepParts(of, all("settled"), all("reopened")),
    ...findingParts(of, all("found")),
    ...countParts(of, all("counted")),
    ...defectParts(of, all("defect-seen"), all("defect-mended")),
    ...workParts(of, all("worked"), all("work-taken-back")),
    ...plantParts(of, all("plant-read")),
    ...photoParts(of, all("photographed"), all("hid-photo"), photo),
  ];
  if (parts.length === 0) return;
  const list = parts.map(({ name, query }) => sql`${sql.ref(name)} as (${query})`);
  await sql`with ${sql.join(list)} select 1`.execute(scope);
}

interface Writing {
  firmId: string;
  visitId: string;
  receivedAt: Date;
  before: Written;
  standing: Written;
}

function defectParts(
  { firmId, visitId }: Writing,
  seen: readonly Of<"defect-seen">[],
  mended: readonly Of<"defect-mended">[],
): Part[] {
  const parts: Part[] = [];
  if (seen.length > 0)
    parts.push({
      name: "defects",
      query: sql`
        insert into defect (id, firm_id, basin_id, visit_id, member_id, title, photo_id, seen_at)
        select one.id, ${firmId}::uuid, visit.basin_id, visit.id, one."memberId", one.title, one."photoId", one.at
        from visit, ${rows(
          seen.map(({ by, defect: { id, title, photoId, at } }) => ({
            id,
            title,
            photoId,
            at,
            memberId: by.id,
          })),
          `id uuid, "memberId" uuid, title text, "photoId" uuid, at timestamptz`,
        )} where visit.id = ${visitId}`,
    });
  if (mended.length > 0)
    parts.push({
      name: "mended",
      query: sql`
        update defect set mended_at = one.at, mended_visit = case when one.at is null then null else ${visitId}::uuid end
        from ${rows(
          mended.map(({ defectId, mended, at }) => ({ id: defectId, at: mended ? at : null })),
          "id uuid, at timestamptz",
        )} where defect.id = one.id`,
    });
  return parts;
}

function visitParts({ visitId, standing }: Writing, facts: readonly Fact[]): Part[] {
  const json = (value: unknown) => sql`${JSON.stringify(value)}::jsonb`;
  const sets: RawBuilder<unknown>[] = facts.flatMap((fact) => {
    switch (fact.kind) {
      case "looked":
        return [sql`look = ${json(standing.look)}`];
      case "sampled":
        return [sql`sampling = ${json(standing.sampling)}`];
      case "placed":
        return [sql`places = ${json(standing.places ?? null)}`];
      case "happened":
      case "over":
        return [sql`incidents = ${json(standing.incidents ?? [])}`];
      case "job-begun":
      case "job-over":
        return [sql`jobs = ${json(standing.jobs ?? [])}`];
      case "found":
        return [sql`bathing = ${json(fact.bathing)}`];
      case "noted":
        return [sql`note = ${standing.note}`];
      case "closed":
        return [
          sql`finished_at = ${standing.finishedAt}, note = ${standing.note}, notices = ${json(standing.notices)}`,
          sql`weather = ${standing.weather ? json(standing.weather) : sql`null`}`,
          sql`untested = ${standing.untested ?? null}`,
          sql`feeder_setting = ${standing.feederSetting ?? null}::double precision`,
        ];
      default:
        return [];
    }
  });
  // A tap of a count is no news for whoever has the visit on their device.
  if (facts.every(({ kind }) => kind === "counted")) return [];
  return [
    {
      name: "visited",
      query: sql`update visit set ${sql.join([sql`version = version + 1`, ...sets])} where id = ${visitId}`,
    },
  ];
}

function readingParts({ firmId, visitId, before, standing }: Writing, facts: readonly Of<"read">[]): Part[] {
  if (facts.length === 0) return [];
  const stands = new Map(standing.readings.map((reading) => [reading.id, reading]));
  const was = new Map(before.readings.map((reading) => [reading.id, reading]));
  const gone = facts.flatMap(({ supersedes }) => (supersedes && was.has(supersedes) ? [supersedes] : []));
  const changed = (used: boolean) =>
    before.readings
      .filter((one) => one.used !== used && stands.get(one.id)?.used === used)
      .map(({ id }) => id);
  const off = changed(false);
  const on = changed(true);
  const list = facts.map(({ by, at, reading, supersedes }) => ({
    id: reading.id,
    member_id: by.id,
    quantity: reading.quantity,
    value: reading.value,
    low: reading.low,
    high: reading.high,
    bound: reading.bound,
    kit_id: reading.kitId,
    method_id: reading.methodId,
    observation: reading.observation,
    doubts: reading.doubts,
    taken_at: reading.takenAt,
    supersedes,
    used: stands.get(reading.id)?.used ?? false,
    round: reading.round,
    why: reading.why ?? "",
    late: reading.late ?? false,
    scatter: reading.scatter ?? null,
    superseded_at: stands.has(reading.id) ? null : at,
  }));
  const uses = facts.flatMap((fact) => fact.uses);
  const corrections = facts.filter(({ corrects }) => corrects !== null);
  const [first] = facts;
  const parts: Part[] = [];
  if (gone.length > 0)
    parts.push({
      name: "gone",
      query: sql`update reading set superseded_at = ${first?.at} where id = any(${sql.val(gone)}::uuid[]) returning id`,
    });
  if (off.length > 0)
    parts.push({
      name: "off",
      query: sql`update reading set used = false where id = any(${sql.val(off)}::uuid[]) returning id`,
    });
  const room = [gone.length > 0 ? "gone" : null, off.length > 0 ? "off" : null];
  if (on.length > 0)
    parts.push({
      name: "on",
      query: sql`update reading set used = true where id = any(${sql.val(on)}::uuid[]) and ${after(...room)}`,
    });
  parts.push({
    name: "read",
    query: sql`
      insert into reading (id, firm_id, visit_id, member_id, quantity, value, low, high, bound, kit_id, method_id,
        observation, doubts, taken_at, supersedes, used, round, why, late, scatter, superseded_at)
      select one.id, ${firmId}::uuid, ${visitId}::uuid, one.member_id, one.quantity, one.value, one.low, one.high,
        one.bound, one.kit_id, one.method_id, one.observation, one.doubts, one.taken_at, one.supersedes, one.used,
        one.round, one.why, one.late, one.scatter, one.superseded_at
      from ${rows(
        list,
        `id uuid, member_id uuid, quantity text, value float8, low float8, high float8, bound text, kit_id uuid,
        method_id text, observation jsonb, doubts jsonb, taken_at timestamptz, supersedes uuid, used boolean,
        round smallint, why text, late boolean, scatter float8, superseded_at timestamptz`,
      )} where ${after(...room)}`,
  });
  if (uses.length > 0)
    parts.push({
      name: "used_up",
      query: sql`
        insert into reagent_use (firm_id, reading_id, reagent, bottle_id, amount)
        select ${firmId}::uuid, one."readingId", one.reagent, one."bottleId", one.amount
        from ${rows(uses, `"readingId" uuid, reagent text, "bottleId" uuid, amount float8`)}
        on conflict do nothing`,
    });
  if (corrections.length > 0)
    parts.push({
      name: "noted",
      query: sql`
        insert into audit (id, firm_id, member_id, at, action, subject_id, detail)
        select one.id, ${firmId}::uuid, one.member_id, one.at, 'reading-corrected', ${visitId}::uuid, one.detail
        from ${rows(
          corrections.map(({ by, at, reading, corrects }) => ({
            id: uuid(),
            member_id: by.id,
            at,
            detail: {
              name: reading.why,
              changes: { [reading.quantity]: { was: corrects?.was, became: reading.value } },
            },
          })),
          "id uuid, member_id uuid, at timestamptz, detail jsonb",
        )}`,
    });
  return parts;
}

function outcomeParts({ firmId }: Writing, facts: readonly Of<"kept-promise">[]): Part[] {
  if (facts.length === 0) return [];
  const list = facts.map(({ planId, readingId, outcome }) => ({ planId, readingId, ...outcome }));
  return [
    {
      name: "outcome",
      query: sql`
        insert into plan_outcome
          (firm_id, plan_id, quantity, "before", promised, low, high, measured, ratio, verdict, reading_id)
        select ${firmId}::uuid, one."planId", one.quantity, one."before", one.promised, one.low, one.high,
          one.measured, one.ratio, one.verdict, one."readingId"
        from ${rows(
          list,
          `"planId" uuid, "readingId" uuid, quantity text, "before" float8, promised float8, low float8,
          high float8, measured float8, ratio float8, verdict text`,
        )}
        on conflict (plan_id, firm_id, quantity) do update set "before" = excluded."before",
          promised = excluded.promised, low = excluded.low, high = excluded.high, measured = excluded.measured,
          ratio = excluded.ratio, verdict = excluded.verdict, reading_id = excluded.reading_id`,
    },
  ];
}

function doseParts({ firmId, visitId, before }: Writing, facts: readonly Of<"gave">[]): Part[] {
  if (facts.length === 0) return [];
  const gone = facts.flatMap(({ supersedes }) => (supersedes ? [supersedes] : []));
  const late = before.finishedAt !== null;
  const list = facts.map(({ by, dose, supersedes }) => ({ ...dose, memberId: by.id, supersedes }));
  return [
    ...(gone.length > 0
      ? [
          {
            name: "taken_back",
            query: sql`update dose set superseded_at = ${facts[0]?.at} where id = any(${sql.val(gone)}::uuid[]) returning id`,
          },
        ]
      : []),
    {
      name: "gave",
      // Out of the truck that its member drives, when the product is counted there; put right, out of the same.
      query: sql`
        insert into dose (id, firm_id, visit_id, member_id, product_id, code, planned_grams, given_grams, given_at,
          supersedes, late, truck_id)
        select one.id, ${firmId}::uuid, ${visitId}::uuid, one."memberId", one."productId", one.code,
          one."plannedGrams", one."givenGrams", one."givenAt", one.supersedes, ${late},
          case when old.product_id = one."productId" then old.truck_id else (
            select truck.id from truck
            join truck_stock on truck_stock.firm_id = truck.firm_id and truck_stock.truck_id = truck.id
            where truck.member_id = one."memberId" and truck.retired_at is null
              and truck_stock.product_id = one."productId" limit 1) end
        from ${rows(
          list,
          `id uuid, "memberId" uuid, "productId" uuid, code text, "plannedGrams" float8, "givenGrams" float8,
          "givenAt" timestamptz, supersedes uuid`,
        )} left join dose as old on old.id = one.supersedes
        where ${after(gone.length > 0 ? "taken_back" : null)}`,
    },
  ];
}

function planParts(
  { firmId, visitId, before, standing }: Writing,
  planned: readonly Of<"planned">[],
  stopped: readonly Of<"stopped">[],
): Part[] {
  const known = new Set(before.plans.map(({ id }) => id));
  const ended = stopped.filter(({ planId }) => known.has(planId));
  const parts: Part[] = [];
  if (ended.length > 0)
    parts.push({
      name: "ended",
      query: sql`
        update plan set ended_at = one.at, why_ended = one.why
        from ${rows(
          ended.map(({ planId, at, why }) => ({ id: planId, at, why })),
          "id uuid, at timestamptz, why text",
        )} where plan.id = one.id returning plan.id`,
    });
  if (planned.length > 0)
    parts.push({
      name: "planned",
      query: sql`
        insert into plan (id, firm_id, visit_id, member_id, round, origin, name, content, begun_at, ended_at)
        select one.id, ${firmId}::uuid, ${visitId}::uuid, one.member_id, one.round, one.origin, one.name,
          one.content, one.begun_at, one.ended_at
        from ${rows(
          planned.map(({ by, at, plan }) => ({
            ...plan,
            member_id: by.id,
            begun_at: at,
            ended_at: standing.plans.find(({ id }) => id === plan.id)?.endedAt ?? null,
          })),
          `id uuid, member_id uuid, round smallint, origin text, name text, content jsonb, begun_at timestamptz,
          ended_at timestamptz`,
        )} where ${after(ended.length > 0 ? "ended" : null)}`,
    });
  return parts;
}

function stepParts(
  { firmId }: Writing,
  settled: readonly Of<"settled">[],
  reopened: readonly Of<"reopened">[],
): Part[] {
  const touched = [
    ...settled.map(({ planId, step }) => ({ planId, position: step.position })),
    ...reopened.map(({ planId, position }) => ({ planId, position })),
  ];
  if (touched.length === 0) return [];
  const at = [...settled, ...reopened][0]?.at;
  const parts: Part[] = [
    {
      name: "open_again",
      query: sql`
        update plan_step set superseded_at = ${at}
        from ${rows(touched, `"planId" uuid, position smallint`)}
        where plan_step.plan_id = one."planId" and plan_step.position = one.position
          and plan_step.superseded_at is null returning plan_step.position`,
    },
  ];
  if (settled.length > 0)
    parts.push({
      name: "settled",
      query: sql`
        insert into plan_step (firm_id, plan_id, position, member_id, state, why, at)
        select ${firmId}::uuid, one."planId", one.position, one."memberId", one.state, one.why, one.at
        from ${rows(
          settled.map(({ planId, by, step }) => ({ planId, memberId: by.id, ...step })),
          `"planId" uuid, position smallint, "memberId" uuid, state text, why text, at timestamptz`,
        )} where ${after("open_again")}`,
    });
  return parts;
}

function findingParts({ firmId, visitId }: Writing, facts: readonly Of<"found">[]): Part[] {
  const found: readonly Finding[] | undefined = facts.at(-1)?.findings;
  if (!found) return [];
  return [
    { name: "not_found", query: sql`delete from finding where visit_id = ${visitId} returning id` },
    {
      name: "found",
      query: sql`
        insert into finding (id, firm_id, visit_id, position, code, detail)
        select one.id, ${firmId}::uuid, ${visitId}::uuid, one.position, one.code, one.detail
        from ${rows(
          found.map((finding, position) => ({ id: uuid(), position, code: finding.code, detail: finding })),
          "id uuid, position smallint, code text, detail jsonb",
        )} where ${after("not_found")}
        on conflict (visit_id, firm_id, code) do nothing`,
    },
  ];
}

function countParts({ firmId, visitId, receivedAt }: Writing, facts: readonly Of<"counted">[]): Part[] {
  return facts.map(({ methodId, state }) => ({
    name: "counted",
    query: sql`
      insert into drop_count
        (firm_id, visit_id, method_id, drops, ahead, idle, sample, holder, term, sequence, updated_at)
      values (${firmId}, ${visitId}, ${methodId}, ${state.drops}, ${state.ahead}, ${state.idle}, ${state.sample},
        ${state.holder}, ${state.term}, ${state.sequence}, ${receivedAt})
      on conflict (visit_id, firm_id, method_id) do update set drops = excluded.drops, ahead = excluded.ahead,
        idle = excluded.idle, sample = excluded.sample, holder = excluded.holder, term = excluded.term,
        sequence = excluded.sequence, updated_at = excluded.updated_at`,
  }));
}

function workParts(
  { firmId, visitId, receivedAt }: Writing,
  done: readonly Of<"worked">[],
  takenBack: readonly Of<"work-taken-back">[],
): Part[] {
  const gone = [
    ...done.flatMap(({ supersedes }) => (supersedes ? [supersedes] : [])),
    ...takenBack.map(({ workId }) => workId),
  ];
  const parts: Part[] = [];
  if (gone.length > 0)
    parts.push({
      name: "work_gone",
      query: sql`
        update visit_work set superseded_at = ${receivedAt}
        where visit_id = ${visitId} and id = any(${sql.val(gone)}::uuid[])`,
    });
  for (const [index, { by, work }] of done.entries())
    parts.push({
      name: `worked_${index}`,
      query: sql`
        insert into visit_work (id, firm_id, visit_id, member_id, key, name, state, why, at)
        values (${work.id}, ${firmId}, ${visitId}, ${by.id}, ${work.key}, ${work.name}, ${work.state}, ${work.why},
          ${work.at})`,
    });
  return parts;
}

function plantParts({ firmId, visitId, receivedAt }: Writing, read: readonly Of<"plant-read">[]): Part[] {
  return read.flatMap(({ by, reading, supersedes }, index) => [
    ...(supersedes
      ? [
          {
            name: `plant_gone_${index}`,
            query: sql`
              update plant_reading set superseded_at = ${receivedAt}
              where visit_id = ${visitId} and id = ${supersedes}`,
          },
        ]
      : []),
    {
      name: `plant_${index}`,
      query: sql`
        insert into plant_reading (id, firm_id, visit_id, member_id, kind, value, changed, at)
        values (${reading.id}, ${firmId}, ${visitId}, ${by.id}, ${reading.kind}, ${reading.value}, ${reading.changed},
          ${reading.at})`,
    },
  ]);
}

function photoParts(
  { firmId, visitId }: Writing,
  taken: readonly Of<"photographed">[],
  hidden: readonly Of<"hid-photo">[],
  photo: PhotoBytes | null,
): Part[] {
  const [kept] = taken;
  const [gone] = hidden;
  const parts: Part[] = [];
  if (kept && photo)
    parts.push({
      name: "photographed",
      query: sql`
        insert into photo (id, firm_id, visit_id, member_id, kind, bytes, taken_at)
        values (${photo.id}, ${firmId}, ${visitId}, ${kept.by.id}, ${photo.kind}, ${photo.bytes}, ${kept.at})`,
    });
  if (gone)
    parts.push({
      name: "hid",
      query: sql`update photo set removed_at = ${gone.at} where id = ${gone.photoId} and visit_id = ${visitId}`,
    });
  return parts;
}
