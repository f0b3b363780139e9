import { NO_EQUIPMENT } from "../basin/basin";
import type { ProductId } from "../products/products";
import { OUTDOOR_FIXED_BAND } from "../ranges/sets";
import { INSTRUMENT_KIT } from "../testing/kits/instruments";
import { TITRATION_KIT } from "../testing/kits/titration-kit";
import type { Brought, ShelfProduct } from "./brought";

/** A call at a pool of 40 m³ that nothing is known of yet. */

export const uuidOf = (number: number): string =>
  `01900000-0000-7000-8000-${number.toString(16).padStart(12, "0")}`;

export const STARTED = new Date("2026-05-04T08:00:00Z");
export const KIT = uuidOf(0xa1);
export const INSTRUMENTS = uuidOf(0xa2);

const product = (id: number, compound: ProductId, strength: number): ShelfProduct => ({
  id: uuidOf(id),
  product: compound,
  name: compound,
  strength,
  density: null,
  pricePerKg: 2,
  left: null,
  reorder: null,
  planned: true,
  position: id,
});

export const ACID = uuidOf(0xb1);
export const PRODUCTS_HERE: ShelfProduct[] = [
  product(0xb1, "hydrochloric-acid", 0.3145),
  product(0xb2, "sodium-bicarbonate", 1),
  product(0xb3, "sodium-hypochlorite", 0.125),
  product(0xb4, "calcium-chloride", 0.77),
];

export const brought = (change: Partial<Brought> = {}): Brought => ({
  visit: {
    id: uuidOf(1),
    basinId: uuidOf(2),
    memberId: uuidOf(3),
    memberName: "Wren",
    kitId: KIT,
    rangeSetId: uuidOf(4),
    litres: 40_000,
    startedAt: STARTED,
    rangeOverrides: null,
  },
  firm: {
    id: uuidOf(5),
    name: "Firm",
    units: "metric",
    timeZone: "UTC",
    currency: "USD",
    seasonStart: "04-01",
    fillRate: 1500,
    persulfateDose: 24,
    scaleStep: null,
    callMinutes: 40,
    callPrice: 30,
    laymen: ["sodium-hypochlorite", "calcium-hypochlorite", "dichlor"],
    cadence: null,
  },
  basin: {
    id: uuidOf(2),
    name: "Pool",
    kind: "pool",
    surface: "plaster",
    litres: 40_000,
    indoors: false,
    isPublic: false,
    sanitiser: "chlorine",
    calls: { callDays: [1], everyWeeks: 1, weeksFrom: "2026-05-04", season: null },
    callerId: null,
    cadence: null,
    equipment: NO_EQUIPMENT,
    note: "",
    kitId: KIT,
    rangeSetId: uuidOf(4),
    rangeOverrides: null,
    barred: [],
    mostReplaced: 0.3,
    callMinutes: null,
    site: {
      id: uuidOf(6),
      name: "Site",
      street: "",
      district: "",
      contact: "",
      fillAlkalinity: null,
      fillHardness: null,
      language: null,
    },
  },
  kits: [
    { id: KIT, kit: TITRATION_KIT },
    { id: INSTRUMENTS, kit: INSTRUMENT_KIT },
  ],
  olderKits: [],
  rangeSet: OUTDOOR_FIXED_BAND,
  earlier: [],
  outLastTime: [],
  dosesBefore: [],
  bottles: [],
  metalsSeen: false,
  shifts: {},
  products: PRODUCTS_HERE,
  ...change,
});

export const WREN = { id: uuidOf(3), name: "Wren" };
export const JORY = { id: uuidOf(7), name: "Jory" };
