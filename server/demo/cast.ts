import type { BasinKind, Sanitiser, Surface } from "#core";

/** Fennmoor Water Care and the basins it keeps in Orrin Vale. All of it is invented. */

export const FIRM = { name: "Fennmoor Water Care", timeZone: "America/Denver" };

export const DEMO_PASSWORD = "orrin-vale-demo";

export const MEMBERS = [
  { key: "tamsin", name: "Tamsin Orrell", email: "tamsin@fennmoor.example", role: "owner" },
  { key: "jory", name: "Jory Pask", email: "jory@fennmoor.example", role: "technician" },
  { key: "wren", name: "Wren Hallam", email: "wren@fennmoor.example", role: "technician" },
  { key: "anselm", name: "Anselm Kray", email: "anselm@threecairns.example", role: "reader" },
  // Works in Spanish.
  { key: "ines", name: "Inés Robledal", email: "ines@fennmoor.example", role: "technician", language: "es" },
] as const;

export const DEMO_EMAIL = MEMBERS[1].email;

/** Soft mountain water in the upper town, hard well water in the lower. mg/L as CaCO3 */
const UPPER = { district: "Upper Town, Orrin Vale", fillAlkalinity: 45, fillHardness: 40, fillPh: 7.4 };
const LOWER = { district: "Lower Town, Orrin Vale", fillAlkalinity: 180, fillHardness: 320, fillPh: 7.6 };

export interface DemoSite {
  key: string;
  name: string;
  street: string;
  contact: string;
  fill: typeof UPPER;
}

export const SITES: DemoSite[] = [
  {
    key: "lodge",
    name: "Ashgill Thermal Lodge",
    street: "4 Kell Terrace",
    contact: "Mirel Dunmore",
    fill: UPPER,
  },
  {
    key: "school",
    name: "Small Fry Swim School",
    street: "18 Weir Lane",
    contact: "Posy Adeyar",
    fill: LOWER,
  },
  {
    key: "clinic",
    name: "Tollgate Clinic",
    street: "2 Tollgate Row",
    contact: "Dr Ines Varrow",
    fill: LOWER,
  },
  { key: "gym", name: "Overhang Climbing Hall", street: "31 Foundry Yard", contact: "Bex Tarn", fill: LOWER },
  { key: "hotel", name: "Hotel Three Cairns", street: "1 Lift Road", contact: "Anselm Kray", fill: UPPER },
  { key: "club", name: "Mere End Boat Club", street: "The Slipway", contact: "Harrow Finch", fill: LOWER },
  {
    key: "bracken",
    name: "Bracken Holiday Let",
    street: "7 Sheepfold Track",
    contact: "Lettings desk",
    fill: UPPER,
  },
  {
    key: "rowan",
    name: "Rowan Barn Holiday Let",
    street: "9 Sheepfold Track",
    contact: "Lettings desk",
    fill: UPPER,
  },
  {
    key: "heron",
    name: "Heron House Holiday Let",
    street: "22 Lock Street",
    contact: "Lettings desk",
    fill: LOWER,
  },
];

export interface DemoBasin {
  key: string;
  site: string;
  name: string;
  kind: BasinKind;
  surface: Surface;
  litres: number;
  indoors: boolean;
  rangeSet: "outdoor" | "spa" | "public" | "salt";
  callDays: number[];
  note?: string;
  /** How the water behaves. */
  habits: Habits;
}

export interface Habits {
  /** Share of free chlorine gone in a day without sun; outdoors the season adds to it. */
  loss: number;
  /** Share of the dissolved CO2's surplus that leaves in a day: jets and splashing drive it. */
  aeration: number;
  /** Share of the volume that evaporates and is topped up in a day. */
  evaporation: number;
  /** Share of the volume splashed or washed out, and replaced, in a day. */
  splash: number;
  /** Combined chlorine that bathers keep up, mg/L. */
  combined: number;
  temperature: number;
  /** What keeps chlorine up between calls. */
  feeder: "none" | "liquid" | "tablets" | "salt-cell";
  start: { totalAlkalinity: number; calciumHardness: number; cyanuricAcid: number };
}

const spa = {
  loss: 0.55,
  aeration: 0.4,
  evaporation: 0.004,
  splash: 0.02,
  combined: 0.25,
  temperature: 38,
  feeder: "liquid",
} as const;
const indoor = {
  loss: 0.3,
  aeration: 0.14,
  evaporation: 0.003,
  splash: 0.006,
  combined: 0.3,
  temperature: 31,
  feeder: "liquid",
} as const;
const outdoor = {
  loss: 0.22,
  aeration: 0.12,
  evaporation: 0.004,
  splash: 0.003,
  combined: 0.12,
  temperature: 22,
} as const;

export const BASINS: DemoBasin[] = [
  {
    key: "cedar",
    site: "lodge",
    name: "Cedar spa",
    kind: "spa",
    surface: "acrylic",
    litres: 1590,
    indoors: false,
    rangeSet: "spa",
    callDays: [1, 3, 5],
    habits: { ...spa, start: { totalAlkalinity: 100, calciumHardness: 170, cyanuricAcid: 5 } },
  },
  {
    key: "slate",
    site: "lodge",
    name: "Slate spa",
    kind: "spa",
    surface: "tile",
    litres: 3400,
    indoors: true,
    rangeSet: "spa",
    callDays: [1, 3, 6],
    habits: { ...spa, combined: 0.35, start: { totalAlkalinity: 90, calciumHardness: 190, cyanuricAcid: 0 } },
  },
  {
    key: "fern",
    site: "lodge",
    name: "Fern spa",
    kind: "spa",
    surface: "acrylic",
    litres: 1210,
    indoors: false,
    rangeSet: "spa",
    callDays: [1, 3, 7],
    habits: { ...spa, loss: 0.62, start: { totalAlkalinity: 85, calciumHardness: 160, cyanuricAcid: 10 } },
  },
  {
    key: "teaching",
    site: "school",
    name: "Teaching pool",
    kind: "teaching",
    surface: "tile",
    litres: 94600,
    indoors: true,
    rangeSet: "public",
    callDays: [1, 4, 5],
    habits: { ...indoor, start: { totalAlkalinity: 110, calciumHardness: 330, cyanuricAcid: 44 } },
  },
  {
    key: "toddler",
    site: "school",
    name: "Toddler pool",
    kind: "teaching",
    surface: "tile",
    litres: 15100,
    indoors: true,
    rangeSet: "public",
    callDays: [2, 4, 7],
    habits: {
      ...indoor,
      loss: 0.4,
      combined: 0.42,
      temperature: 33,
      start: { totalAlkalinity: 105, calciumHardness: 340, cyanuricAcid: 46 },
    },
  },
  {
    key: "exercise",
    site: "clinic",
    name: "Warm exercise pool",
    kind: "exercise",
    surface: "tile",
    litres: 53000,
    indoors: true,
    rangeSet: "spa",
    callDays: [2, 4, 7],
    note: "Hoist on the left; ask at reception before testing.",
    habits: {
      ...indoor,
      temperature: 34,
      start: { totalAlkalinity: 100, calciumHardness: 210, cyanuricAcid: 0 },
    },
  },
  {
    key: "cold",
    site: "gym",
    name: "Cold plunge",
    kind: "plunge",
    surface: "fibreglass",
    litres: 2650,
    indoors: true,
    rangeSet: "outdoor",
    callDays: [2, 4, 7],
    habits: {
      ...indoor,
      loss: 0.18,
      temperature: 11,
      evaporation: 0.001,
      start: { totalAlkalinity: 120, calciumHardness: 280, cyanuricAcid: 42 },
    },
  },
  {
    key: "terrace",
    site: "hotel",
    name: "Terrace pool",
    kind: "pool",
    surface: "plaster",
    litres: 113600,
    indoors: false,
    rangeSet: "salt",
    callDays: [1, 3, 5],
    note: "Salt cell in the plant room; cover is on a motor.",
    habits: {
      ...outdoor,
      temperature: 27,
      aeration: 0.2,
      feeder: "salt-cell",
      start: { totalAlkalinity: 95, calciumHardness: 300, cyanuricAcid: 48 },
    },
  },
  {
    key: "hotspa",
    site: "hotel",
    name: "Gallery spa",
    kind: "spa",
    surface: "tile",
    litres: 4500,
    indoors: true,
    rangeSet: "spa",
    callDays: [5, 6, 7],
    habits: { ...spa, start: { totalAlkalinity: 95, calciumHardness: 175, cyanuricAcid: 0 } },
  },
  {
    key: "splash",
    site: "club",
    name: "Splash pad tank",
    kind: "splash-pad",
    surface: "concrete",
    litres: 7570,
    indoors: false,
    rangeSet: "outdoor",
    callDays: [2, 5],
    habits: {
      ...outdoor,
      loss: 0.4,
      aeration: 0.2,
      splash: 0.01,
      feeder: "liquid",
      start: { totalAlkalinity: 115, calciumHardness: 300, cyanuricAcid: 46 },
    },
  },
  {
    key: "bracken",
    site: "bracken",
    name: "Plunge pool",
    kind: "plunge",
    surface: "vinyl",
    litres: 14400,
    indoors: false,
    rangeSet: "outdoor",
    callDays: [2, 6],
    habits: {
      ...outdoor,
      feeder: "tablets",
      start: { totalAlkalinity: 90, calciumHardness: 180, cyanuricAcid: 38 },
    },
  },
  {
    key: "rowan",
    site: "rowan",
    name: "Plunge pool",
    kind: "plunge",
    surface: "fibreglass",
    litres: 11400,
    indoors: false,
    rangeSet: "outdoor",
    callDays: [3, 6],
    habits: {
      ...outdoor,
      feeder: "liquid",
      start: { totalAlkalinity: 85, calciumHardness: 160, cyanuricAcid: 36 },
    },
  },
  {
    key: "heron",
    site: "heron",
    name: "Courtyard plunge",
    kind: "plunge",
    surface: "concrete",
    litres: 18900,
    indoors: false,
    rangeSet: "outdoor",
    callDays: [4, 6],
    habits: {
      ...outdoor,
      evaporation: 0.007,
      feeder: "liquid",
      start: { totalAlkalinity: 100, calciumHardness: 260, cyanuricAcid: 45 },
    },
  },
];

export const sanitiserOf = ({ habits }: Pick<DemoBasin, "habits">): Sanitiser =>
  habits.feeder === "salt-cell" ? "salt-cell" : "chlorine";
