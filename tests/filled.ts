import { randomBytes } from "node:crypto";
import { v7 as uuid } from "uuid";
import { asFirm, asGate, type Database } from "#server/db/connection";
import type { Firm } from "./firm";

/** A row of a firm in every table that holds a firm's rows: a wall is tried where something stands behind it. */
export async function fillFirm(db: Database, firm: Firm): Promise<void> {
  const firm_id = firm.id;
  const member_id = firm.memberId;
  const basin_id = firm.basinId;
  const at = new Date("2026-05-04T10:00:00Z");
  const later = new Date(at.getTime() + 86_400_000);
  const [visit, reading, bottle, truck, plan] = [uuid(), uuid(), uuid(), uuid(), uuid()];
  const token = () => randomBytes(32);
  await asFirm(db, firm_id, async (scope) => {
    const product_id = (await scope.selectFrom("product").select("id").limit(1).executeTakeFirstOrThrow()).id;
    const site_id = (await scope.selectFrom("site").select("id").executeTakeFirstOrThrow()).id;
    const ids = { firm_id, id: uuid() };
    const of = { firm_id, member_id };
    const put = async <Table extends Parameters<typeof scope.insertInto>[0]>(table: Table, row: object) => {
      await scope
        .insertInto(table)
        .values(row as never)
        .execute();
    };
    const file_id = uuid();
    await put("import_file", { ...of, id: file_id, name: "log.csv", sent_at: at });
    await put("import_chunk", { firm_id, file_id, position: 0, content: Buffer.from("date") });
    await put("member_site", { firm_id, member_id, site_id });
    await put("basin_volume", { ...ids, ...of, basin_id, how: "entered", litres: 10_000, known_from: at });
    await put("product_price", { firm_id, product_id, price_per_kg: 2, known_from: at });
    await put("visit", {
      ...of,
      id: visit,
      basin_id,
      kit_id: firm.kitId,
      range_set_id: firm.rangeSetId,
      litres: 10_000,
      started_at: at,
      finished_at: later,
    });
    await put("visit_work", {
      ...of,
      id: uuid(),
      visit_id: visit,
      key: "brush",
      name: "",
      state: "done",
      why: "",
      at,
    });
    await put("plant_reading", {
      ...of,
      id: uuid(),
      visit_id: visit,
      kind: "filterPressure",
      value: 90,
      changed: false,
      at,
    });
    await put("work_list", {
      ...of,
      id: uuid(),
      kind: "pool",
      version: 1,
      content: JSON.stringify({ items: [{ key: "brush", rule: { by: "days", every: 7 } }] }),
      created_at: at,
    });
    await put("site_access", {
      firm_id,
      site_id,
      content: JSON.stringify({ code: "4711" }),
      changed_at: at,
      changed_by: member_id,
    });
    const defect = uuid();
    await put("defect", { ...of, id: defect, basin_id, visit_id: visit, title: "Loose latch", seen_at: at });
    await put("quote", {
      firm_id,
      id: uuid(),
      defect_id: defect,
      version: 1,
      amount: 80,
      text: "",
      made_at: at,
      made_by: member_id,
    });
    await put("site_mail", {
      firm_id,
      site_id,
      email: "owner@example.org",
      is_on: true,
      token: token().toString("base64url"),
      changed_at: at,
      changed_by: member_id,
    });
    await put("mail_server", {
      firm_id,
      host: "mail.example.org",
      port: 587,
      tls: "asked",
      username: "",
      sender: "firm@example.org",
      changed_at: at,
      changed_by: member_id,
    });
    await put("mail", {
      firm_id,
      id: uuid(),
      visit_id: visit,
      site_id,
      email: "owner@example.org",
      state: "shown",
      not_before: at,
      queued_at: at,
    });
    await put("reading", {
      ...of,
      id: reading,
      visit_id: visit,
      quantity: "totalAlkalinity",
      value: 100,
      low: 95,
      high: 105,
      bound: "within",
      kit_id: firm.kitId,
      method_id: "total-alkalinity",
      observation: JSON.stringify({ kind: "drops", count: 10, sample: 25 }),
      taken_at: at,
    });
    const counted = { drops: 3, sample: 25, sequence: 3 };
    await put("drop_count", { firm_id, visit_id: visit, method_id: "total-alkalinity", ...counted });
    await put("finding", { ...ids, visit_id: visit, position: 0, code: "ph.high", detail: "{}" });
    await put("dose", {
      ...ids,
      ...of,
      visit_id: visit,
      product_id,
      code: "ph.high",
      planned_grams: 5,
      given_grams: 5,
      given_at: at,
    });
    const card = uuid();
    await put("card", {
      firm_id,
      id: card,
      basin_id,
      token_hash: token(),
      content: JSON.stringify({ product: "dichlor", strength: 0.56, grams: 28.5, everyDays: 1 }),
      made_by: member_id,
      made_at: at,
    });
    await put("card_entry", {
      ...ids,
      id: uuid(),
      card_id: card,
      kind: "given",
      slot: "2026-05-05",
      at: later,
      content: "{}",
    });
    await put("photo", { ...ids, ...of, visit_id: visit, kind: "image/png", bytes: token(), taken_at: at });
    await put("bottle", {
      firm_id,
      id: bottle,
      reagent: "acid titrant",
      measure: "drops",
      full: 700,
      added_at: at,
    });
    await put("reagent_use", {
      firm_id,
      reading_id: reading,
      reagent: "acid titrant",
      bottle_id: bottle,
      amount: 10,
    });
    await put("plan", {
      ...of,
      id: plan,
      visit_id: visit,
      round: 0,
      origin: "alternative",
      name: "balanced",
      content: "{}",
      begun_at: at,
    });
    await put("plan_step", { ...of, plan_id: plan, position: 0, state: "done", at });
    await put("plan_outcome", {
      firm_id,
      plan_id: plan,
      quantity: "ph",
      before: 7.8,
      promised: 7.5,
      low: 7.4,
      high: 7.6,
      measured: 7.5,
      ratio: 1,
      verdict: "as-promised",
      reading_id: reading,
    });
    const link = { firm_id, made_at: at, expires_at: later };
    await put("invite", {
      ...link,
      id: uuid(),
      made_by: member_id,
      name: "N",
      role: "technician",
      token_hash: token(),
    });
    await put("share", { ...link, id: uuid(), made_by: member_id, visit_id: visit, token_hash: token() });
    await put("feed", { ...of, id: uuid(), made_at: at, mine: true, token_hash: token() });
    await put("api_token", {
      ...of,
      id: uuid(),
      name: "T",
      scopes: ["read-book"],
      made_at: at,
      token_hash: token(),
    });
    const hook = uuid();
    const told = uuid();
    await put("webhook", {
      ...of,
      id: hook,
      url: "https://hooks.example/",
      events: ["visit-closed"],
      secret: token(),
      made_at: at,
    });
    await put("webhook_event", { firm_id, id: told, key: "K", kind: "visit-closed", content: "{}", at });
    await put("webhook_delivery", {
      firm_id,
      id: uuid(),
      webhook_id: hook,
      event_id: told,
      state: "waiting",
      not_before: at,
    });
    await put("audit", { ...of, id: uuid(), at, action: "firm-changed" });
    await put("round_day", { firm_id, day: at, version: 1 });
    await put("round_call", { firm_id, day: at, basin_id, position: 0 });
    await put("basin_event", { ...ids, basin_id, day: at, name: "Party", made_by: member_id });
    await put("task_done", { ...ids, ...of, basin_id, task: "shock", done_at: at });
    await put("reminder", { firm_id, day: at, content: "{}", made_at: at });
    await put("truck", { firm_id, id: truck, name: "Van" });
    await put("truck_stock", { firm_id, truck_id: truck, product_id, grams: 5, counted_at: at });
    await put("command", { ...ids, ...of, digest: token(), received_at: at });
    await put("learned", { firm_id, basin_id, content: "{}", learned_at: at, version: 1, visits: 1 });
    await put("suspicion_list", { firm_id, content: "[]", learned_at: at, version: 1 });
    await put("delivery", { ...ids, product_id, lot: "L", used_from: at, added_at: at });
    await put("password_reset", {
      ...of,
      id: uuid(),
      made_by: firm.ownerId,
      token_hash: token(),
      made_at: at,
      expires_at: later,
    });
    await put("practised", {
      ...of,
      method_id: "salt",
      runs: 12,
      traps_seen: 0,
      traps_missed: 0,
      last_on: at,
      used: false,
      told_at: at,
    });
  });
  await asGate(db, async (scope) => {
    await scope
      .insertInto("session")
      .values({ token_hash: token(), firm_id, member_id, expires_at: later })
      .execute();
  });
}
