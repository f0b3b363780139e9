import Joi from "joi";
import {
  addDays,
  dayIn,
  horizonOf,
  InputFault,
  LEARNED,
  MOST_DAYS,
  QUANTITY_NAMES,
  type Quantity,
} from "#core";
import { daySchema } from "#server/commands/fields";
import type { ApiScope } from "#server/db/api-tokens";
import { basinById } from "#server/db/basins";
import { readingsAfter, rowsAfter } from "#server/db/exchange-rows";
import { firmOf } from "#server/db/firms";
import { learnedOf, suspicionsOf } from "#server/db/learned";
import { productsOf } from "#server/db/products";
import { trucksOf } from "#server/db/trucks";
import { accountsIn, isMonth } from "#server/exchange/accounts";
import { type VisitParts, visitRows, visitsPage } from "#server/exchange/book-json";
import { HEAD, OF_VISIT, rowSchema, type Shape, visitSchema } from "#server/exchange/shape";
import { openVisit } from "#server/visits/open";
import { boardOn } from "#server/week/week";
import { inFirm, inFirmLately, notFound, servicesContext } from "../context";
import { day, flag, id, list, number, object, ofJoi, orNull, page, text, time, whole } from "./json-schema";
import type { ApiCall, JsonSchema, Operation, OperationId } from "./operation";
import { cursorOf, type PageAsked, pageOf, pageQuery, placeBehind } from "./page";

/** What programs may read: the book's rows in the shapes of its JSON file, and what the pages work out of them. */

interface Read<Query> {
  scope?: ApiScope;
  query?: Joi.ObjectSchema<Query>;
  answer: JsonSchema;
  run(call: Omit<ApiCall, "query"> & { query: Query }): Promise<unknown>;
}

const read = <Query = object>(
  id: OperationId,
  path: string,
  { scope = "read-book", query, answer, run }: Read<Query>,
): Operation => ({
  id,
  method: "GET",
  path,
  scope,
  ...(query ? { query } : {}),
  answer,
  run: (call) => run(call as unknown as Parameters<typeof run>[0]),
});

/** Rows of a table with all the columns of its shape, by their ids. */
const rows = (operation: OperationId, path: string, shape: Shape): Operation =>
  read<PageAsked>(operation, path, {
    query: Joi.object(pageQuery),
    answer: page(ofJoi(rowSchema(shape))),
    async run({ request, context, query: { limit, cursor } }) {
      const after = placeBehind(cursor, Joi.object({ id: Joi.string().guid().required() }));
      const found = await inFirmLately(request, context, (scope) =>
        rowsAfter(scope, shape, after?.id ?? null, limit + 1),
      );
      return pageOf(
        found,
        limit,
        (row) => row,
        (row) => ({ id: row.id }),
      );
    },
  });

/** Photos are told of, their bytes are not: each would be larger than all the rest. */
const PHOTOS: Shape = {
  ...OF_VISIT.photos,
  columns: OF_VISIT.photos.columns.filter(({ name }) => name !== "bytes"),
};
const PARTS: VisitParts = { ...OF_VISIT, photos: PHOTOS };
const apiVisit = visitSchema.keys({
  finishedAt: Joi.string().isoDate().allow(null).required(),
  photos: Joi.array().items(rowSchema(PHOTOS)).required(),
});

const dayAsked = daySchema.optional();
const uuidAsked = Joi.string().guid({ separator: "-" });
const timePlace = Joi.object<{ at: string; id: string }>({
  at: Joi.string().isoDate().required(),
  id: uuidAsked.required(),
});

interface VisitsAsked extends PageAsked {
  basinId?: string;
  memberId?: string;
  finding?: string;
  text: string;
  from?: string;
  to?: string;
}

interface ReadingsAsked extends PageAsked {
  quantity?: Quantity;
  from?: string;
  to?: string;
}

const monthOnly = (month: string, helpers: Joi.CustomHelpers) =>
  isMonth(month) ? month : helpers.error("any.invalid");

const figure = object({ value: number, low: number, high: number });
const reading = rowSchema(OF_VISIT.readings).keys({ visitId: uuidAsked.required() });
const toWhen = (at: number): string => new Date(at).toISOString();

export const READS: readonly Operation[] = [
  read("firm", "/firm", {
    answer: object({ id, name: text, timeZone: text, units: text, currency: text, scopes: list(text) }),
    run: ({ context, holder }) =>
      inFirm(context, async (scope) => {
        const { id, name, timeZone, units, currency } = await firmOf(scope);
        return { id, name, timeZone, units, currency, scopes: holder.scopes };
      }),
  }),
  rows("members", "/members", HEAD.members),
  rows("sites", "/sites", HEAD.sites),
  rows("basins", "/basins", HEAD.basins),
  rows("kits", "/kits", HEAD.kits),
  rows("range-sets", "/range-sets", HEAD.rangeSets),
  rows("products", "/products", HEAD.products),
  rows("deliveries", "/deliveries", HEAD.deliveries),
  rows("bottles", "/bottles", HEAD.bottles),
  read("stock", "/stock", {
    answer: object({
      products: list(
        object({
          id,
          compound: text,
          name: text,
          leftGrams: orNull(number),
          reorderGrams: orNull(number),
          isPlanned: flag,
        }),
      ),
      trucks: list(
        object({
          id,
          name: text,
          memberId: orNull(id),
          stock: list(object({ productId: id, leftGrams: number, countedAt: time })),
        }),
      ),
    }),
    run: ({ context }) =>
      inFirm(context, async (scope) => {
        const products = await productsOf(scope);
        const trucks = await trucksOf(scope);
        return {
          products: products.map(({ id, product, name, left, reorder, planned }) => ({
            id,
            compound: product,
            name,
            leftGrams: left,
            reorderGrams: reorder,
            isPlanned: planned,
          })),
          trucks: trucks.map(({ id, name, memberId, stock }) => ({
            id,
            name,
            memberId,
            stock: stock.map(({ productId, left, countedAt }) => ({
              productId,
              leftGrams: left,
              countedAt: countedAt.toISOString(),
            })),
          })),
        };
      }),
  }),
  read<VisitsAsked>("visits", "/visits", {
    query: Joi.object({
      ...pageQuery,
      basinId: uuidAsked,
      memberId: uuidAsked,
      finding: Joi.string().pattern(/^[a-zA-Z]{1,40}\.(low|high)$/),
      text: Joi.string().trim().max(80).default(""),
      from: dayAsked,
      to: dayAsked,
    }),
    answer: page(ofJoi(apiVisit)),
    async run({ request, context, query: { limit, cursor, ...asked } }) {
      const place = placeBehind(cursor, timePlace);
      const filter = {
        text: asked.text,
        basinId: asked.basinId ?? null,
        memberId: asked.memberId ?? null,
        finding: asked.finding ?? null,
        from: asked.from ?? null,
        to: asked.to ?? null,
      };
      const { rows, next } = await inFirmLately(request, context, async (scope) => {
        const { timeZone } = await firmOf(scope);
        const after = place && { startedAt: new Date(place.at), id: place.id };
        return visitsPage(scope, filter, { after, limit, timeZone }, PARTS);
      });
      return { items: rows, next: next && cursorOf({ at: next.startedAt.toISOString(), id: next.id }) };
    },
  }),
  read("visit", "/visits/{visitId}", {
    answer: ofJoi(apiVisit),
    async run({ context, params: { visitId = "" } }) {
      const [visit] = await inFirm(context, (scope) => visitRows(scope, [visitId], PARTS));
      return visit ?? notFound();
    },
  }),
  read<ReadingsAsked>("readings", "/basins/{basinId}/readings", {
    query: Joi.object({
      ...pageQuery,
      quantity: Joi.valid(...QUANTITY_NAMES),
      from: dayAsked,
      to: dayAsked,
    }),
    answer: page(ofJoi(reading)),
    async run({ request, context, params: { basinId = "" }, query: { limit, cursor, quantity, from, to } }) {
      const after = placeBehind(cursor, timePlace);
      const found = await inFirmLately(request, context, async (scope) => {
        if (!(await basinById(scope, basinId))) return notFound();
        const { timeZone } = await firmOf(scope);
        const filter = { basinId, quantity: quantity ?? null, from: from ?? null, to: to ?? null };
        return readingsAfter(scope, OF_VISIT.readings, filter, after, { limit: limit + 1, timeZone });
      });
      return pageOf(
        found,
        limit,
        ({ place: _, ...row }) => row,
        (row) => ({ at: row.place, id: row.id }),
      );
    },
  }),
  read("suspicions", "/suspicions", {
    answer: object({
      items: list(
        object({
          code: { enum: ["volume", "bottle", "product", "unwritten"] },
          basinId: orNull(id),
          lot: orNull(text),
          ratio: figure,
          chance: number,
          quantity: orNull(text),
          at: orNull(time),
        }),
      ),
    }),
    run: ({ request, context }) =>
      inFirmLately(request, context, async (scope) => ({
        items: (await suspicionsOf(scope)).map(({ code, basin, lot, ratio, chance, quantity, at }) => ({
          code,
          basinId: basin ?? null,
          lot: lot ?? null,
          ratio: { value: ratio.value, low: ratio.low, high: ratio.high },
          chance,
          quantity: quantity ?? null,
          at: at === undefined ? null : toWhen(at),
        })),
      })),
  }),
  read<{ month: string }>("accounts", "/accounts", {
    query: Joi.object({ month: Joi.string().custom(monthOnly).required() }),
    answer: object({
      month: text,
      currency: text,
      accounts: list(
        object({
          siteId: id,
          site: text,
          visits: whole,
          lines: list(
            object({
              visitId: id,
              day,
              basin: text,
              kind: { enum: ["visit", "product"] },
              product: text,
              quantity: number,
              unit: { enum: ["visit", "kg"] },
              price: orNull(number),
              amount: orNull(number),
            }),
          ),
          total: number,
          unpriced: whole,
        }),
      ),
    }),
    run: ({ request, context, query: { month } }) =>
      inFirmLately(request, context, (scope) => accountsIn(scope, month)),
  }),
  read("forecast", "/basins/{basinId}/forecast", {
    scope: "read-plans",
    answer: object({
      learnedAt: orNull(time),
      visits: whole,
      points: list({
        type: "object",
        properties: { at: time, ...Object.fromEntries(LEARNED.map((name) => [name, figure])) },
        required: ["at"],
        additionalProperties: false,
      }),
    }),
    run: ({ request, context, params: { basinId = "" } }) =>
      inFirmLately(request, context, async (scope) => {
        if (!(await basinById(scope, basinId))) return notFound();
        const learned = await learnedOf(scope, basinId);
        return {
          learnedAt: learned?.learnedAt.toISOString() ?? null,
          visits: learned?.visits ?? 0,
          points: (learned?.forecast ?? []).map(({ at, ...point }) => ({
            at: toWhen(at),
            ...Object.fromEntries(
              LEARNED.flatMap((name) => {
                const found = point[name];
                return found ? [[name, { value: found.value, low: found.low, high: found.high }]] : [];
              }),
            ),
          })),
        };
      }),
  }),
  read("visit-plan", "/visits/{visitId}/plan", {
    scope: "read-plans",
    // As the visit's own page has it: its parts are told in docs/planning.md.
    answer: object({ reason: orNull(text), plan: { type: ["object", "null"] } }),
    async run({ context, params: { visitId = "" } }) {
      const opened = await inFirm(context, (scope, { memberId }, now) =>
        openVisit(scope, { id: visitId, memberId }, now),
      );
      if (!opened) return notFound();
      // No connection is held while the planner works.
      const problem = horizonOf(opened);
      if ("reason" in problem) return { reason: problem.reason, plan: null };
      const found = await context.get(servicesContext).work.ahead(problem);
      return { reason: null, plan: found?.plan ?? null };
    },
  }),
  read<{ from?: string; days: number }>("week", "/week", {
    scope: "read-plans",
    query: Joi.object({ from: dayAsked, days: Joi.number().integer().min(1).max(MOST_DAYS).default(7) }),
    answer: object({
      from: day,
      to: day,
      stops: list(
        object({
          day,
          basinId: id,
          memberId: orNull(id),
          minutes: number,
          drivingMinutes: orNull(number),
          isDrivingEstimated: flag,
          chanceStillRight: orNull(number),
          because: { enum: ["event", "job", null] },
          isDone: flag,
        }),
      ),
      versions: { type: "object", additionalProperties: whole },
    }),
    run: ({ context, query: { from: asked, days } }) =>
      inFirm(context, async (scope, _, now) => {
        const firm = await firmOf(scope);
        const today = dayIn(now, firm.timeZone);
        const from = asked ?? today;
        const latest = addDays(today, LATEST_DAYS);
        if (from > latest) throw new InputFault("too-high", "from", from, latest);
        const { calls, versions } = await boardOn(scope, firm, { from, days }, now);
        return {
          from,
          to: addDays(from, days - 1),
          stops: calls.map((call) => ({
            day: call.day,
            basinId: call.basinId,
            memberId: call.memberId,
            minutes: call.minutes,
            drivingMinutes: call.way,
            isDrivingEstimated: call.isEstimated,
            chanceStillRight: call.lasts,
            because: call.because,
            isDone: call.done,
          })),
          versions,
        };
      }),
  }),
];

/** Nobody plans farther ahead. */
const LATEST_DAYS = 400;
