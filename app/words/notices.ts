import type { Figure, Notice, Quantity } from "#core";
import { words } from "./language";
import { listText } from "./numbers";
import { bathingReason, coldText, hotText } from "./safety";

/** The judgement: what the readings say together, and why. */

export interface NoticeText {
  /** One short sentence. */
  says: string;
  /** The reason, on demand. */
  why: string;
}

/** Writers of numbers with their units, as the firm has them. */
export interface Writers {
  value: (quantity: Quantity, value: number) => string;
  /** A limit, as finely as a test tells it. */
  limit: (quantity: Quantity, value: number) => string;
  name: (quantity: Quantity) => string;
  signed: (value: number) => string;
  plain: (value: number, most: number) => string;
  mass: (grams: number) => string;
  days: (days: number) => string;
  product: (notice: Extract<Notice, { product: unknown }>) => string;
}

export function noticeText(notice: Notice, write: Writers): NoticeText {
  const { value, limit, name, signed, plain } = write;
  const said = words.notices;
  const fc = (amount: number) => value("freeChlorine", Number(amount.toPrecision(2)));
  switch (notice.code) {
    case "basin.closed":
    case "basin.untested": {
      const reasons = notice.because
        // Closed before today's rules, a visit told only the codes.
        .flatMap((reason) => (typeof reason === "string" ? [] : [bathingReason(reason, write)]));
      const tests = notice.reopens.map(({ quantity, low, high }) => {
        const told = {
          name: name(quantity),
          low: low === null ? "" : limit(quantity, low),
          high: high === null ? "" : limit(quantity, high),
        };
        return low !== null && high !== null
          ? said.reads.between(told)
          : low !== null
            ? said.reads.atLeast(told)
            : said.reads.atMost(told);
      });
      const state = notice.code === "basin.closed" ? words.safety.closed : words.safety.untested;
      return { says: [state, ...reasons].join(" "), why: said.opensAgain({ tests: listText(tests) }) };
    }
    case "basin.urgent":
      return words.safety.urgent[notice.trouble];
    case "water.hot":
      return hotText(value("temperature", notice.temperature), limit("temperature", notice.limit));
    case "water.cold":
      return coldText(value("temperature", notice.temperature), limit("temperature", notice.limit));
    case "cell.low-salt":
      return {
        says: said[notice.code].says({ salt: value("salt", notice.salt) }),
        why: said[notice.code].why({ least: value("salt", notice.least) }),
      };
    case "cell.cold":
      return {
        says: said[notice.code].says({ temperature: value("temperature", notice.temperature) }),
        why: said[notice.code].why({ limit: limit("temperature", notice.limit) }),
      };
    case "reading.other-sanitiser":
      return { says: said[notice.code].says({ name: name(notice.quantity) }), why: said[notice.code].why };
    case "chlorine.weak":
      return {
        says: said[notice.code].says({ active: plain(notice.hypochlorousAcid, 3) }),
        why: said[notice.code].why({ floor: plain(notice.floor, 2), needed: fc(notice.needed) }),
      };
    case "chlorine.overstabilised":
      return {
        says: said[notice.code].says({ stabilizer: value("cyanuricAcid", notice.cyanuricAcid) }),
        why: said[notice.code].why({
          limit: value("cyanuricAcid", notice.limit),
          needed: fc(notice.needed),
        }),
      };
    case "saturation.low":
    case "saturation.high":
      return {
        says: said[notice.code].says({ index: signed(notice.index.full.corrected) }),
        why: said[notice.code].why({
          limit: signed(notice.limit),
          mass: write.mass(Math.abs(notice.calcite) * 1000),
        }),
      };
    case "saturation.correction-decides":
      return {
        says: said[notice.code].says({
          titrated: signed(notice.index.full.titrated),
          corrected: signed(notice.index.full.corrected),
        }),
        why: said[notice.code].why,
      };
    case "reading.bounded":
      return {
        says: said[notice.code].says({
          bound: notice.bound === "at-least" ? "high" : "low",
          name: name(notice.quantity),
          value: value(notice.quantity, notice.value),
        }),
        why: said[notice.code].why,
      };
    case "reading.carried":
      return {
        says: said[notice.code].says({
          name: name(notice.quantity),
          value: value(notice.quantity, notice.value),
          age: write.days(notice.daysAgo),
        }),
        why: said[notice.code].why,
      };
    case "metal.stains":
      return {
        says: said[notice.code].says({
          metal: name(notice.quantity),
          value: value(notice.quantity, notice.value),
        }),
        why: said[notice.code].why({ limit: limit(notice.quantity, notice.limit) }),
      };
    case "phosphate.feeds":
      return {
        says: said[notice.code].says({ value: value("phosphate", notice.value) }),
        why: said[notice.code].why({
          held: notice.isHeld,
          limit: limit("phosphate", notice.limit),
        }),
      };
    case "borate.holds":
      return {
        says: said[notice.code].says({ value: value("borate", notice.value) }),
        why: said[notice.code].why,
      };
    case "cause.copper-from-algaecide":
    case "cause.phosphate-from-sequestrant":
      return {
        says: said[notice.code].says({ days: write.days(notice.days) }),
        why: said[notice.code].why,
      };
    case "cause.copper-from-low-ph":
      return { says: said[notice.code].says({ ph: value("ph", notice.ph) }), why: said[notice.code].why };
    case "demand.disagrees":
      return {
        says: said[notice.code].says({ drops: plain(notice.byDrops, 2), model: plain(notice.byModel, 2) }),
        why: said[notice.code].why({ deviations: plain(notice.deviations, 1) }),
      };
    case "cause.stabiliser-from-chlorine":
      return {
        says: said[notice.code].says({
          product: write.product(notice),
          brought: value("cyanuricAcid", Math.round(notice.brought)),
          days: write.days(notice.days),
        }),
        why: sentences(said[notice.code].why({ mass: write.mass(notice.grams) }), aMonth(notice.own, plain)),
      };
    case "cause.calcium-from-chlorine":
      return {
        says: said[notice.code].says({
          brought: value("calciumHardness", Math.round(notice.brought)),
          days: write.days(notice.days),
        }),
        why: sentences(said[notice.code].why({ mass: write.mass(notice.grams) }), aMonth(notice.own, plain)),
      };
    case "cause.calcium-from-fill":
      return {
        says: said[notice.code].says({ fill: value("calciumHardness", notice.fill) }),
        why: sentences(said[notice.code].why, aMonth(notice.own, plain)),
      };
    case "cause.ph-from-aeration":
      return {
        says:
          notice.sanitiser === "salt-cell"
            ? said[notice.code].says["salt-cell"]
            : said[notice.code].says.jets,
        why: sentences(
          said[notice.code].why({ alkalinity: value("totalAlkalinity", notice.totalAlkalinity) }),
          aDay(notice.own, plain),
        ),
      };
    case "cause.combined-from-persulfate":
      return {
        says: said[notice.code].says({ days: write.days(notice.hoursAgo / 24) }),
        why: said[notice.code].why,
      };
  }
}

/** Whole sentences, one after another. */
const sentences = (...texts: (string | null)[]): string => texts.filter((text) => text !== null).join(" ");

/** What this very basin does, by its own log. */
const aMonth = (own: Figure | undefined, plain: Writers["plain"]): string | null =>
  own
    ? words.notices.aMonth({ value: plain(own.value, 0), low: plain(own.low, 0), high: plain(own.high, 0) })
    : null;
const aDay = (own: Figure | undefined, plain: Writers["plain"]): string | null =>
  own
    ? words.notices.aDay({ value: plain(own.value, 2), low: plain(own.low, 2), high: plain(own.high, 2) })
    : null;
