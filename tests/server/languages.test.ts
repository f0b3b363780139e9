import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { clientOf, dataOf } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** Which language a page comes in, and that it brings no other along. */
let world: World;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.close());

const languageOf = (page: string) => /<html[^>]* lang="([^"]+)"/.exec(page)?.[1];

describe("a page without a sign-in", () => {
  const asked = async (headers: Record<string, string>, query = "") =>
    (await clientOf(world.web.address).get(`/sign-in${query}`, { Cookie: "", ...headers })).text();

  it.each([
    ["es", "es-US", "Iniciar sesión"],
    ["es-AR,es;q=0.9", "es-US", "Iniciar sesión"],
    ["es-MX", "es-MX", "Iniciar sesión"],
    ["en-GB,en;q=0.8", "en-GB", "Sign in"],
    ["de,fr;q=0.5", "en-US", "Sign in"],
    ["not a language;;", "en-US", "Sign in"],
    ["", "en-US", "Sign in"],
  ])("comes as the browser asks: %s", async (accepted, lang, said) => {
    const page = await asked({ "Accept-Language": accepted });
    expect(languageOf(page)).toBe(lang);
    expect(page).toContain(said);
  });

  it("comes as the browser last chose, and before that as its address says", async () => {
    const spanish = { Cookie: "pelagon_language=es", "Accept-Language": "en" };
    expect(languageOf(await asked(spanish))).toBe("es-US");
    expect(languageOf(await asked(spanish, "?language=en-GB"))).toBe("en-GB");
    // A language that is none changes nothing.
    expect(languageOf(await asked({ Cookie: "pelagon_language=klingon" }))).toBe("en-US");
    expect(languageOf(await asked(spanish, "?language=../../etc"))).toBe("es-US");
  });

  it("carries the messages of its language and no other", async () => {
    const carried = async (language: string) =>
      new Set(
        [
          ...(await asked({ "Accept-Language": language })).matchAll(
            /\/assets\/messages-([\w-]+?)-.{8}\.js/g,
          ),
        ].map(([, name]) => name),
      );
    expect(await carried("es")).toEqual(new Set(["es"]));
    expect(await carried("en")).toEqual(new Set(["en"]));
  });

  it("gives the service worker what it says itself", async () => {
    const told = async (query: string) =>
      (await clientOf(world.web.address).get(`/offline/words${query}`)).json();
    expect(await told("?language=es")).toMatchObject({ title: "Sin conexión", locale: "es-US" });
    expect(await told("?language=en")).toMatchObject({ title: "Offline", locale: "en-US" });
  });
});

describe("a member", () => {
  it("reads what they chose, whatever their browser asks for, and can take that back", async () => {
    const choose = (language: string) =>
      world.http.post("/settings/language", new URLSearchParams({ language }));
    const settings = async () => (await world.http.get("/settings", { "Accept-Language": "en" })).text();
    const chosen = await choose("es-MX");
    expect(chosen.status).toBe(302);
    expect(chosen.headers.get("set-cookie")).toMatch(
      /^pelagon_language=es-MX; Path=\/; SameSite=Lax; Max-Age=\d{8}/,
    );
    expect(languageOf(await settings())).toBe("es-MX");
    // What a page is told on the way is in their language too.
    expect(await settings()).toContain("Apariencia");

    const wrong = await choose("es-XX");
    expect(wrong.status).toBe(422);
    expect(await wrong.text()).toMatch(/"language".*es-XX/s);
    expect(languageOf(await settings())).toBe("es-MX");

    await choose("");
    expect(languageOf(await settings())).toBe("en-US");
  });
});

describe("units", () => {
  it("are a member's own where they chose some, on the device too, and the firm's for the others", async () => {
    const { http, ours, as } = world;
    const unitsOf = async (client: typeof http) =>
      (
        await dataOf<{ "routes/signed-in/layout": { data: { units: string } } }>(
          await client.get("/_root.data"),
        )
      )["routes/signed-in/layout"].data.units;
    const owner = await as(ours.ownerEmail);
    const firms = await unitsOf(owner);
    const other = firms === "us" ? "metric" : "us";
    const choose = (units: string) =>
      http.post("/settings", new URLSearchParams({ command: "set-own-units", units }));
    expect((await choose(other)).status).toBe(200);
    expect(await unitsOf(http)).toBe(other);
    expect(await unitsOf(owner)).toBe(firms);
    expect(await (await choose("furlongs")).text()).toMatch(/unit system is furlongs/);
    expect(await unitsOf(http)).toBe(other);
    await choose("imperial");
    // 20,000 L are 4,399 imperial gallons, and no label, scale or thermometer goes by them.
    const { litres } = await asFirm(world.db, ours.id, (scope) =>
      scope.selectFrom("basin").select("litres").where("id", "=", ours.basinId).executeTakeFirstOrThrow(),
    );
    expect(await (await http.get(`/basins/${ours.basinId}`)).text()).toContain(
      `${(Math.round(litres / 45.4609) * 10).toLocaleString("en-US")} imp gal`,
    );
    await choose("");
    expect(await unitsOf(http)).toBe(firms);
  });
});

describe("a customer's sheet", () => {
  it("is in the customer's language by link, on paper and as the firm prints it, unless its address asks for another", async () => {
    const { db, ours, http } = world;
    const visit = await visitWith(db, ours, http, {
      ph: [7.4, 7.6],
      alkalinity: 90,
      hardness: 250,
      stabiliser: 40,
      chlorine: 3,
    });
    await asFirm(db, ours.id, async (scope) => {
      await scope.updateTable("visit").set({ finished_at: new Date() }).where("id", "=", visit).execute();
      await scope.updateTable("site").set({ language: "es" }).execute();
    });
    const shared = await http.postJson(`/visits/${visit}/customer.data`, {
      command: "share-sheet",
      id: uuid(),
      days: 7,
    });
    const { token } = (await dataOf<{ data: { token: string } }>(shared)).data;
    const nobody = clientOf(world.web.address);
    const english = { "Accept-Language": "en", Cookie: "" };
    const page = await (await nobody.get(`/s/${token}`, english)).text();
    expect(languageOf(page)).toBe("es-US");
    expect(page).toContain("Lo que se midió");
    expect(page).not.toContain("What was tested");
    const asked = await (await nobody.get(`/s/${token}?language=en`, english)).text();
    expect(languageOf(asked)).toBe("en-US");
    expect(asked).toContain("What was tested");

    const pdf = await nobody.get(`/s/${token}/sheet.pdf`, english);
    expect(Buffer.from(await pdf.arrayBuffer()).toString("latin1")).toMatch(/\/Lang \(es-US\)/);
    // The firm reads English around a sheet that is Spanish.
    const inside = await (await http.get(`/visits/${visit}/customer`, { "Accept-Language": "en" })).text();
    expect(languageOf(inside)).toBe("en-US");
    expect(inside).toMatch(/<article lang="es-US"/);
    expect(inside).toContain("Lo que se midió");
    expect(inside).toContain("Share this sheet");
    await asFirm(db, ours.id, (scope) => scope.updateTable("site").set({ language: null }).execute());
  });
});
