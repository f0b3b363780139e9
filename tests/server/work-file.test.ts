import { parse } from "devalue";
import sharp from "sharp";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import type { SyncAnswer } from "../../app/device/take-commands.server";
import { type Client, clientOf } from "../client";
import { openWorld, type World } from "../world";

/** Work that its maker may not send any more, taken in by an owner. */
let world: World;
let owner: Client;
beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
});
afterAll(() => world.close());

const SEEN = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
const HOUR = 3_600_000;
let sequence = 0;
const command = (name: string, visitId: string, given: object, id = uuid()) => ({
  id,
  name,
  visitId,
  given,
  made: {
    device: "a phone",
    sequence: sequence++,
    at: new Date(Date.now() - 5 * HOUR + sequence * 60_000),
    seen: SEEN,
  },
});
const form = (commands: object[], maker = world.ours.memberId) => {
  const sent = new FormData();
  sent.set("work", JSON.stringify({ maker, commands }));
  return sent;
};
const send = (client: Client, sent: FormData) => client.post("/settings/work/file", sent);
const told = async (answer: Response) => parse(await answer.text()) as SyncAnswer;

describe("a file of work", () => {
  it("of somebody who was removed stands in the book as theirs, when they did it, once", async () => {
    const { ours, db } = world;
    const visitId = uuid();
    await asFirm(db, ours.id, (scope) =>
      scope.updateTable("member").set({ disabled_at: new Date() }).where("id", "=", ours.memberId).execute(),
    );
    const work = [
      command("start", visitId, { basinId: ours.basinId }, visitId),
      command("read", visitId, {
        tests: [{ id: uuid(), methodId: "total-alkalinity", seen: { kind: "drops", count: 9, sample: 25 } }],
      }),
      command("close", visitId, { note: "from a file" }),
    ];
    const first = await told(await send(owner, form(work)));
    expect(first.results.map((result) => "fault" in result)).toEqual([false, false, false]);
    const again = await told(await send(owner, form(work)));
    expect(again.results).toEqual(first.results);
    const picture = await sharp({ create: { width: 4, height: 4, channels: 3, background: "#08f" } })
      .jpeg()
      .toBuffer();
    const photo = uuid();
    // A photo comes by itself, and late: its visit is closed.
    const seen = { ...SEEN, version: 1 };
    const taken = command("photograph", visitId, { photoId: photo }, photo);
    const withPicture = form([{ ...taken, made: { ...taken.made, seen } }]);
    withPicture.set("photo", new Blob([new Uint8Array(picture)], { type: "image/jpeg" }), "p.jpg");
    expect((await told(await send(owner, withPicture))).results).toMatchObject([{ id: photo }]);
    const rows = await asFirm(db, ours.id, async (scope) => ({
      visit: await scope
        .selectFrom("visit")
        .select(["member_id", "note", "started_at"])
        .where("id", "=", visitId)
        .executeTakeFirstOrThrow(),
      readings: await scope
        .selectFrom("reading")
        .select(["member_id", "value"])
        .where("visit_id", "=", visitId)
        .execute(),
      audit: await scope
        .selectFrom("audit")
        .select(["member_id", "subject_id", "detail"])
        .where("action", "=", "work-taken-in")
        .orderBy("at")
        .execute(),
    }));
    expect(rows.visit).toMatchObject({ member_id: ours.memberId, note: "from a file" });
    expect((Date.now() - rows.visit.started_at.getTime()) / HOUR).toBeCloseTo(5, 0);
    expect(rows.readings).toEqual([{ member_id: ours.memberId, value: 90 }]);
    expect(rows.audit[0]).toMatchObject({
      member_id: ours.ownerId,
      subject_id: ours.memberId,
      detail: { name: "Tech", count: 3 },
    });
    await asFirm(db, ours.id, (scope) =>
      scope.updateTable("member").set({ disabled_at: null }).where("id", "=", ours.memberId).execute(),
    );
  });

  it("is an owner's to take in, and of their own firm only", async () => {
    const { ours, theirs } = world;
    const visitId = uuid();
    const work = () => [command("start", visitId, { basinId: ours.basinId }, visitId)];
    expect((await send(world.http, form(work()))).status).toBe(403);
    expect((await send(clientOf(world.web.address), form(work()))).status).toBe(302);
    expect((await send(owner, form(work(), theirs.memberId))).status).toBe(404);
    // Under a name of ours, another firm's basin is not there.
    const foreign = [command("start", visitId, { basinId: theirs.basinId }, visitId)];
    expect((await told(await send(owner, form(foreign)))).results).toMatchObject([{ fault: {} }]);
    expect((await send(owner, form([]))).status).toBe(422);
  });
});
