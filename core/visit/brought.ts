import type { SiteAccess } from "../basin/access";
import type { Basin } from "../basin/basin";
import type { Promised } from "../dosing/horizon/plan";
import type { Between } from "../dosing/horizon/problem";
import type { Shift } from "../doubts/context";
import type { HoldAnswer } from "../hold/hold";
import type { Job } from "../jobs/job";
import type { Incident } from "../judging/incidents";
import type { HabitFigures } from "../learning/figures";
import type { ForecastPoint } from "../learning/outlook";
import type { Posterior } from "../learning/posterior";
import type { Quantity } from "../measure/quantity";
import type { UnitSystem } from "../measure/unit-systems";
import type { Label } from "../products/labels";
import type { Product, ProductId } from "../products/products";
import type { RangeOverrides, RangeSet } from "../ranges/range-set";
import type { CadenceChange } from "../schedule/cadence";
import type { Kit } from "../testing/kit";
import type { Look } from "../testing/order/look";
import type { Bottle } from "../testing/reagents";
import type { WorkMinutes } from "../work/minutes";
import type { PlantKind } from "../work/plant";
import type { WorkList } from "../work/work";
import type { Defect, VisitReading } from "./written";

/** What a call takes along: everything that its screens need and that is not written at the call itself. */
export interface Brought {
  visit: VisitBegun;
  firm: Firm;
  basin: Basin;
  /** The visit's own kit first, in the version that it began with; then the firm's others. */
  kits: KitVersion[];
  /** Versions that no basin begins with any more, but a reading names. */
  olderKits: KitVersion[];
  /** The set of the visit without the basin's own limits. */
  rangeSet: RangeSet;
  /** The newest of each quantity from visits before. */
  earlier: VisitReading[];
  /** What the last visit found out of its range. */
  outLastTime: Quantity[];
  /** What went in at other visits within `DOSE_DAYS`, by its label within `LABEL_DOSE_DAYS`, the newest first. */
  dosesBefore: EarlierDose[];
  /** Reagent bottles; what this visit used is not in `used`. */
  bottles: ShelfBottle[];
  metalsSeen: boolean;
  /** Quantities that moved the same way at most basins. */
  shifts: Partial<Record<Quantity, Shift>>;
  products: ShelfProduct[];
  /** What the last visit's plan promised for the call that is nearest to this visit; null where it promised nothing. */
  promised?: Promised | null | undefined;
  /** What happened at the basin at earlier visits and is not over. */
  incidents?: Incident[] | undefined;
  /** Jobs of more than one call that are under way, and what their calls before found; bundles of before have none. */
  jobs?: JobBefore[] | undefined;
  /** What was seen broken at visits before and is not mended; bundles of before have none. */
  defects?: OpenDefect[] | undefined;
  /** What gauges and displays showed at the last visits before, the earliest first; bundles of before have none. */
  plantBefore?: PlantSeen[] | undefined;
  /** How one gets in there; null where nobody wrote it down. */
  access?: SiteAccess | null | undefined;
  /** What is done at this kind of basin besides the water, and the day each piece was last done; bundles of before have none. */
  work?: { list: WorkList; lastDone: Readonly<Record<string, string>> } | undefined;
  /** Relative scatters of people who said that their own stand in for the default, by member and test. */
  scatters?: Readonly<Record<string, Readonly<Record<string, number>>>> | undefined;
  /** What the people there give between the calls, by the card that hangs there. */
  between?: Between | null | undefined;
  /** What the basin's own log taught; nothing where it was not learned, or was brought by an older build. */
  learned?:
    | {
        habits: HabitFigures;
        forecast: readonly ForecastPoint[];
        posterior?: Posterior | null;
        /** What would hold its water. */
        hold?: HoldAnswer | null;
      }
    | null
    | undefined;
}

/** A job that visits before have begun. */
export interface JobBefore {
  job: Job;
  /** Visits since it was begun, the earliest first. */
  calls: JobCall[];
}

export interface JobCall {
  /** When the visit was begun. */
  at: Date;
  look: Look | null;
  /** How deep one saw, cm. */
  sight: number | null;
  /** Free chlorine as it was first and last read there, mg/L. */
  first: { value: number; at: Date } | null;
  last: { value: number; at: Date } | null;
}

/** Something broken that waits to be mended. */
export interface OpenDefect extends Defect {
  visitId: string;
  /** Offered for an amount, and approved by whoever owns it; null where it is not. */
  quote: { amount: number; approvedBy: string | null } | null;
}

/** What was read off the plant at an earlier visit. */
export interface PlantSeen {
  kind: PlantKind;
  value: number;
  changed: boolean;
  at: Date;
  /** What the drops of that visit came to beside it, see `besideDisplay`; null where it is no controller's. */
  drops: number | null;
}

/** A visit as it was begun: it keeps the kit, the limits and the volume of that moment. */
export interface VisitBegun {
  id: string;
  basinId: string;
  memberId: string;
  memberName: string;
  kitId: string;
  rangeSetId: string;
  litres: number;
  startedAt: Date;
  /** Limits of the basin's own as they were then. */
  rangeOverrides: RangeOverrides | null;
}

export interface KitVersion {
  id: string;
  kit: Kit;
}

export interface Firm {
  id: string;
  name: string;
  units: UnitSystem;
  timeZone: string;
  /** Of its prices, ISO 4217. */
  currency: string;
  /** Month and day on which the season begins, as 04-01: reagents are renewed then. */
  seasonStart: string;
  /** How fast a tap fills a basin, litres an hour. */
  fillRate: number;
  /** Persulfate oxidiser by its label, grams a cubic metre. */
  persulfateDose: number;
  /** Smallest step that the scales on the trucks show, g; null where nobody said. */
  scaleStep: number | null;
  /** For pouring at a call, with every separation, minutes. */
  callMinutes: number;
  /** Money for a call beside what is poured. */
  callPrice: number;
  /** Compounds that the people at a basin may be asked to dose. */
  laymen: ProductId[];
  /** What is tested and done how often, where it is not as usual. */
  cadence: CadenceChange | null;
  /** Minutes of each piece of work by its people's taps; null, or left out by an earlier bundle, where none were timed. */
  workMinutes?: Record<string, WorkMinutes> | null;
}

/** Doses older than this say nothing about today's tests. Days */
export const DOSE_DAYS = 45;
/** What is dosed by its label may come round once a year. Days */
export const LABEL_DOSE_DAYS = 366;

/** A dose of an earlier visit. */
export interface EarlierDose {
  product: ProductId;
  /** 0…1; see `Product`. */
  strength: number;
  grams: number;
  /** Of the basin as it was taken for then. */
  litres: number;
  givenAt: Date;
}

export interface ShelfProduct extends Product {
  id: string;
  name: string;
  density: number | null;
  pricePerKg: number | null;
  /** Grams left: what was counted less what was given since; null when nobody counts it. */
  left: number | null;
  /** Grams left on the shelf and on all trucks at which it is to be ordered; null when nobody minds. */
  reorder: number | null;
  /** Of a product that is dosed by its label. */
  label?: Label | null | undefined;
  /** Whether plans may use it. */
  planned: boolean;
  position: number;
}

/** A bottle of a reagent on the shelf or in a kit. */
export interface ShelfBottle extends Bottle {
  id: string;
  reagent: string;
  lot: string;
  /** Calendar days, as 2026-04-01. */
  openedOn: string | null;
  expiresOn: string | null;
  emptiedAt: Date | null;
}
