import type { Migration } from "kysely";
import * as fieldBook from "./0001-field-book";
import * as bench from "./0002-bench";
import * as plans from "./0003-plans";
import * as firm from "./0004-firm";
import * as walls from "./0005-walls";
import * as money from "./0006-money";
import * as commands from "./0007-commands";
import * as devices from "./0008-devices";
import * as learned from "./0009-learned";
import * as volumeByLog from "./0010-volume-by-log";
import * as deliveries from "./0011-deliveries";
import * as callMinutes from "./0012-call-minutes";
import * as labels from "./0013-labels";
import * as practised from "./0014-practised";
import * as incidents from "./0015-incidents";
import * as counts from "./0016-counts";
import * as held from "./0017-held";
import * as languages from "./0018-languages";
import * as units from "./0019-units";
import * as manyServers from "./0020-many-servers";
import * as erasing from "./0021-erasing";
import * as keeping from "./0022-keeping";
import * as wholeCall from "./0023-whole-call";
import * as plant from "./0024-plant";
import * as jobs from "./0025-jobs";
import * as customers from "./0026-customers";
import * as defects from "./0027-defects";
import * as traces from "./0028-traces";
import * as workMinutes from "./0029-work-minutes";
import * as places from "./0030-places";
import * as pace from "./0031-pace";
import * as week from "./0032-week";
import * as api from "./0033-api";
import * as prices from "./0034-prices";
import * as webhooks from "./0035-webhooks";

/** Every migration in order; compiled into the server so that a build carries its own. */
export const MIGRATIONS: Record<string, Migration> = {
  "0001-field-book": fieldBook,
  "0002-bench": bench,
  "0003-plans": plans,
  "0004-firm": firm,
  "0005-walls": walls,
  "0006-money": money,
  "0007-commands": commands,
  "0008-devices": devices,
  "0009-learned": learned,
  "0010-volume-by-log": volumeByLog,
  "0011-deliveries": deliveries,
  "0012-call-minutes": callMinutes,
  "0013-labels": labels,
  "0014-practised": practised,
  "0015-incidents": incidents,
  "0016-counts": counts,
  "0017-held": held,
  "0018-languages": languages,
  "0019-units": units,
  "0020-many-servers": manyServers,
  "0021-erasing": erasing,
  "0022-keeping": keeping,
  "0023-whole-call": wholeCall,
  "0024-plant": plant,
  "0025-jobs": jobs,
  "0026-customers": customers,
  "0027-defects": defects,
  "0028-traces": traces,
  "0029-work-minutes": workMinutes,
  "0030-places": places,
  "0031-pace": pace,
  "0032-week": week,
  "0033-api": api,
  "0034-prices": prices,
  "0035-webhooks": webhooks,
};
