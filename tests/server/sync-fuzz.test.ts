import { afterAll, beforeAll, expect, it } from "vitest";
import { fuzzSync, placeToFuzz } from "../sync-fuzz";
import { openWorld, type World } from "../world";

let world: World;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.close());

it("a hundred batches of a seed break nothing, lose nothing, double nothing, and stand under who sent them", async () => {
  const { db, ours, theirs, http } = world;
  const senders = [
    { memberId: ours.memberId, http },
    { memberId: ours.ownerId, http: await world.as(ours.ownerEmail) },
  ];
  const found = await fuzzSync({ db, ours, senders, place: await placeToFuzz(db, ours, theirs) }, 1, 100);
  expect(found).toMatchObject({ broken: 0, underOthers: 0, lost: 0, doubled: 0 });
  // And much of it was taken: what is all refused proves nothing.
  expect(found.acknowledged).toBeGreaterThan(100);
  expect(found.refused).toBeGreaterThan(20);
});
