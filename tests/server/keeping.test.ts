import { execFile } from "node:child_process";
import sharp from "sharp";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { limitsOf, photoBytesOf, setLimits } from "#server/db/keeping";
import { expire } from "#server/jobs/nightly";
import type { Client } from "../client";
import { faultText } from "../client";
import { openWorld, type World } from "../world";

/** How much a firm may keep, and how long it keeps its photos. */
let world: World;
let owner: Client;

beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
});
afterAll(() => world?.close());

/** Pictures that no compression makes small. */
const picture = () =>
  sharp({
    create: {
      width: 300,
      height: 300,
      channels: 3,
      background: "#246",
      noise: { type: "gaussian", mean: 128, sigma: 60 },
    },
  })
    .png()
    .toBuffer();

async function photograph(http: Client, basinId: string): Promise<{ id: string; answer: Response }> {
  const id = uuid();
  const form = new FormData();
  form.set("id", id);
  form.set("photo", new Blob([new Uint8Array(await picture())], { type: "image/png" }), "p.png");
  return { id, answer: await http.post(`/basins/${basinId}/photos.data`, form) };
}

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> =>
  asFirm(world.db, world.ours.id, work);

/** `npm run firm` on the database of this file. */
const firm = (...args: string[]) =>
  new Promise<{ code: number; out: string }>((resolve) =>
    execFile(
      "node_modules/.bin/tsx",
      ["scripts/firm.ts", ...args],
      {
        env: {
          ...process.env,
          DATABASE_URL: world.addresses.url,
          DATABASE_OWNER_URL: world.addresses.ownerUrl,
        },
      },
      (fault, stdout, stderr) => resolve({ code: Number(fault?.code ?? 0), out: stdout + stderr }),
    ),
  );

describe("what a firm may keep", () => {
  it("is as much as it likes, until whoever runs the server says how much", async () => {
    const { ours, theirs } = world;
    expect((await photograph(owner, ours.basinId)).answer.status).toBe(200);
    const one = await inOurs(photoBytesOf);
    expect(one).toBeGreaterThan(100_000);
    await inOurs((scope) => setLimits(scope, { photoBytes: Math.round(one * 1.5) }));
    const refused = await photograph(owner, ours.basinId);
    expect(await faultText(refused.answer)).toMatch(
      /The firm's photos in megabytes is 1\. The most allowed is 0/,
    );
    expect(await inOurs(photoBytesOf)).toBe(one);
    // Nobody else's matter.
    const others = await world.as(theirs.ownerEmail);
    expect((await photograph(others, theirs.basinId)).answer.status).toBe(200);
    await inOurs((scope) => setLimits(scope, { photoBytes: null }));
    expect((await photograph(owner, ours.basinId)).answer.status).toBe(200);
  });

  it("counts basins, too", async () => {
    const { ours } = world;
    const site = await inOurs((scope) => scope.selectFrom("site").select("id").executeTakeFirstOrThrow());
    const add = () =>
      owner.postJson("/basins/new.data", {
        id: uuid(),
        siteId: site.id,
        newSite: null,
        name: `One more ${uuid()}`,
        kind: "pool",
        surface: "plaster",
        litres: 20_000,
        indoors: false,
        isPublic: false,
        kitId: ours.kitId,
        rangeSetId: ours.rangeSetId,
      });
    const { length } = await inOurs((scope) => scope.selectFrom("basin").select("id").execute());
    const told = await firm("limit", ours.id, "basins", `${length + 1}`);
    expect(told).toMatchObject({ code: 0, out: expect.stringContaining(`basins ${length + 1} at most`) });
    expect((await add()).status).toBe(202);
    expect(await faultText(await add())).toMatch(
      new RegExp(`The number of basins is ${length + 2}\\. The most allowed is ${length + 1}`),
    );
    expect((await firm("list")).out).toMatch(
      new RegExp(`${length + 1} basins of ${length + 1}, .* MB of photos`),
    );
    await firm("limit", ours.id, "basins", "none");
    expect(await inOurs(limitsOf)).toEqual({ photoBytes: null, basins: null });
    for (const [what, most, says] of [
      ["basins", "-1", /The limit is -1; it must be none, or a whole number from 0/],
      ["basins", "1.5", /The limit is 1\.5/],
      ["visits", "3", /There is no limit of visits; there are: photos, basins/],
    ] as const) {
      const wrong = await firm("limit", ours.id, what, most);
      expect(wrong.code).toBe(1);
      expect(wrong.out).toMatch(says);
    }
  });

  it("loses its photos in the night after they are too old, and nothing else", async () => {
    const { ours } = world;
    const { id } = await photograph(owner, ours.basinId);
    const path = `/basins/${ours.basinId}/photos/${id}`;
    const bytes = async () =>
      (
        await inOurs((scope) =>
          scope
            .selectFrom("photo")
            .select(["bytes", "taken_at"])
            .where("id", "=", id)
            .executeTakeFirstOrThrow(),
        )
      ).bytes.length;
    const [now, later] = [new Date(), new Date(Date.now() + 400 * 86_400_000)];
    await expire(world.db, later, ours.id);
    expect(await bytes()).toBeGreaterThan(0);
    // A night so far ahead has signed everybody out.
    await owner.as(ours.ownerEmail);
    const refused = await owner.postJson("/settings.data", { command: "set-photo-rule", photoMonths: 0 });
    expect(refused.status).toBe(422);
    expect(
      (await owner.postJson("/settings.data", { command: "set-photo-rule", photoMonths: 12 })).status,
    ).toBe(200);
    await expire(world.db, now, ours.id);
    expect((await owner.get(path)).status).toBe(200);
    expect((await expire(world.db, later, ours.id)).failed).toEqual([]);
    expect(await bytes()).toBe(0);
    await owner.as(ours.ownerEmail);
    expect((await owner.get(path)).status).toBe(404);
    const audit = await inOurs((scope) =>
      scope.selectFrom("audit").select("detail").where("action", "=", "firm-changed").execute(),
    );
    expect(JSON.stringify(audit)).toContain("photoMonths");
  });
});
