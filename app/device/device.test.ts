import { millisecondsInDay } from "date-fns/constants";
import "fake-indexeddb/auto";
import { stringify } from "devalue";
import Dexie from "dexie";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type CountState, NOTHING_WRITTEN, newCount, nothingFound } from "#core";
import { brought, uuidOf } from "../../core/visit/visit.fixtures";
import { bundleState, takeBundle } from "./bundle";
import { keepCount } from "./count";
import { type DeviceStore, type KeptVisit, storeName } from "./database";
import { FakeServer, type Mood, storeWith } from "./device.fixtures";
import { countKey, LOOSE_KEY, looseHere, noteKey, practiceCountKey } from "./drafts";
import { forgetOverdue, noteContact } from "./forget";
import { forgetEverywhere } from "./forget-everywhere";
import { memberHere, memberOfDevice, onAnotherHere, setMemberHere } from "./member";
import { enqueue, startOffline } from "./outbox";
import { reachFirst } from "./reach";
import { deviceStore, whyNoStore, wipe } from "./store";
import { drain, putVisit } from "./sync";
import { unsentHere, workFileOf } from "./unsent";
import { batchesOf, readWorkFile } from "./work-file";

/** The store of a device, and what it sends: nothing twice, nothing lost, nothing that looks sent and is not. */
const BROUGHT = brought();
const VISIT = BROUGHT.visit.id;
let store: DeviceStore;
let server: FakeServer;
let member = 0;

beforeEach(async () => {
  store = await storeWith(`member ${member++}`, BROUGHT);
  server = new FakeServer(BROUGHT);
  vi.stubGlobal("fetch", server.fetch);
});
// Other files run in the same process after this one.
afterEach(() => void vi.unstubAllGlobals());

const alkalinity = (count: number, id: string) => ({
  id,
  name: "read" as const,
  given: {
    tests: [{ id, methodId: "total-alkalinity", seen: { kind: "drops" as const, count, sample: 25 } }],
  },
});
const waiting = () => store.waiting.count();
const here = async () => (await store.visits.get(VISIT))?.written;

describe("a command on the device", () => {
  it("is decided, written and put into the outbox at once, and the same again changes nothing", async () => {
    await enqueue(store, VISIT, alkalinity(10, uuidOf(100)));
    await enqueue(store, VISIT, alkalinity(10, uuidOf(100)));
    expect(await waiting()).toBe(1);
    expect(await here()).toMatchObject({ version: 1, readings: [{ value: 100, by: "Wren" }] });
  });

  it("that is refused leaves nothing behind", async () => {
    await expect(enqueue(store, VISIT, alkalinity(5000, uuidOf(101)))).rejects.toThrow("count: too-high");
    expect([await waiting(), (await here())?.readings]).toEqual([0, []]);
  });

  it("for a visit that does not lie here is the server's", async () => {
    expect(await enqueue(store, uuidOf(999), alkalinity(10, uuidOf(102)))).toBeNull();
  });

  it("is kept with its visit or not at all", async () => {
    const put = vi.spyOn(store.visits, "put").mockRejectedValueOnce(new Error("QuotaExceededError"));
    await expect(enqueue(store, VISIT, alkalinity(10, uuidOf(103)))).rejects.toThrow("Quota");
    put.mockRestore();
    expect([await waiting(), (await here())?.readings]).toEqual([0, []]);
  });
});

describe("what waits", () => {
  it.each([
    ["silent", "unreached"],
    ["broken", "unreached"],
    ["half", "unreached"],
    ["portal", "unreached"],
    ["answer-lost", "unreached"],
    ["signed-out", "signed-out"],
    ["others", "signed-out"],
    ["busy", "unreached"],
    ["foreign-403", "unreached"],
  ] as const)("stays while the server is %s, and goes once when it answers", async (mood, end) => {
    await enqueue(store, VISIT, alkalinity(10, uuidOf(110)));
    server.moods = [mood];
    expect(await drain()).toBe(end);
    expect(await waiting()).toBe(1);
    expect(await drain()).toBe("empty");
    expect(await waiting()).toBe(0);
    expect(server.written.readings).toHaveLength(1);
    expect(await here()).toEqual(server.written);
  });

  it("that is refused lies apart with its reason, and holds up nothing", async () => {
    await enqueue(store, VISIT, { id: uuidOf(120), name: "look", given: nothingFound() });
    // Another rule by now: the server does not know the method any more.
    await store.waiting
      .where("id")
      .equals(uuidOf(120))
      .modify({ name: "read", given: { tests: [] } });
    await store.waiting
      .where("id")
      .equals(uuidOf(120))
      .modify({
        given: { tests: [{ id: uuidOf(121), methodId: "gone", seen: { kind: "number", value: 1 } }] },
      });
    await enqueue(store, VISIT, alkalinity(10, uuidOf(122)));
    expect(await drain()).toBe("empty");
    expect(await store.refused.toArray()).toMatchObject([
      { id: uuidOf(120), fault: { code: "unknown", field: "methodId" } },
    ]);
    expect(server.written.readings).toMatchObject([{ id: uuidOf(122) }]);
  });

  it("that its maker may no longer send is told of, and waits for nobody", async () => {
    await enqueue(store, VISIT, alkalinity(10, uuidOf(130)));
    await enqueue(store, VISIT, alkalinity(11, uuidOf(131)));
    server.moods = ["reader", "reader", "reader"];
    expect(await drain()).toBe("empty");
    expect(await waiting()).toBe(0);
    expect(await store.refused.toArray()).toMatchObject([
      { id: uuidOf(130), fault: { field: "sender" } },
      { id: uuidOf(131), fault: { field: "sender" } },
    ]);
    expect(server.written.readings).toEqual([]);
  });

  it("goes on behind a photo that is too large", async () => {
    const id = uuidOf(140);
    await enqueue(store, VISIT, { id, name: "photograph", given: { photoId: id } }, new Blob(["leaves"]));
    await enqueue(store, VISIT, alkalinity(10, uuidOf(141)));
    server.moods = ["too-large"];
    expect(await drain()).toBe("empty");
    expect(await store.refused.toArray()).toMatchObject([
      { id, fault: { code: "too-long", field: "photo" } },
    ]);
    expect(server.written.readings).toMatchObject([{ id: uuidOf(141) }]);
  });

  it("goes up in its order, many batches of it", async () => {
    for (let count = 0; count < 60; count++)
      await enqueue(store, VISIT, alkalinity(10 + count, uuidOf(200 + count)));
    expect(await drain()).toBe("empty");
    expect(server.asked).toBeGreaterThan(2);
    expect([...server.answers.keys()]).toEqual(Array.from({ length: 60 }, (_, count) => uuidOf(200 + count)));
    expect(server.written.readings).toMatchObject([{ id: uuidOf(259) }]);
  });

  it("loses and doubles nothing, whatever the server does in between", async () => {
    const moods: fc.Arbitrary<Mood> = fc.constantFrom(
      "answers",
      "silent",
      "half",
      "portal",
      "broken",
      "answer-lost",
    );
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.oneof(moods, fc.constant("give" as const)), { maxLength: 25 }),
        async (acts) => {
          store = await storeWith(`member ${member++}`, BROUGHT);
          server = new FakeServer(BROUGHT);
          vi.stubGlobal("fetch", server.fetch);
          let given = 0;
          for (const act of acts) {
            if (act === "give") await enqueue(store, VISIT, alkalinity(5 + given, uuidOf(300 + given++)));
            else {
              server.moods = [act];
              await drain();
            }
          }
          server.moods = [];
          await drain();
          expect(await waiting()).toBe(0);
          const all = [...server.written.readings, ...server.written.trail].map(({ id }) => id).sort();
          expect(all).toEqual(Array.from({ length: given }, (_, index) => uuidOf(300 + index)).sort());
          expect(await here()).toEqual(server.written);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe("a count of drops", () => {
  const counted = (drops: number, change: Partial<CountState> = {}) => ({
    methodId: "total-alkalinity",
    ...newCount(25, "phone"),
    drops,
    sequence: drops,
    ...change,
  });
  const standing = async () => (await here())?.counts["total-alkalinity"];

  it("of a hundred taps is one thing that waits, and the newest of them arrives", async () => {
    server.moods = Array(101).fill("silent");
    for (let drops = 1; drops <= 100; drops++)
      expect(await keepCount(VISIT, counted(drops))).toMatchObject({ server: "silent" });
    expect(await store.waiting.toArray()).toMatchObject([{ name: "count", given: { drops: 100 } }]);
    expect(await standing()).toMatchObject({ drops: 100 });
    // A copy that came back from where it is kept is sent as any other.
    const back = await keepCount(VISIT, counted(100, { keptAt: new Date() } as object));
    expect(back).toMatchObject({ server: "silent" });
    expect((await store.waiting.toArray())[0]?.given).not.toHaveProperty("keptAt");
    server.moods = [];
    expect(await keepCount(VISIT, counted(100))).toMatchObject({ server: "has", stands: { drops: 100 } });
    expect([await waiting(), server.written.counts["total-alkalinity"]?.drops]).toEqual([0, 100]);
  });

  it("waits behind what was given before it, and a reading behind it", async () => {
    server.moods = ["silent", "silent", "silent"];
    await enqueue(store, VISIT, alkalinity(10, uuidOf(120)));
    await keepCount(VISIT, counted(3));
    await enqueue(store, VISIT, alkalinity(11, uuidOf(121)));
    const names = (await store.waiting.orderBy("sequence").toArray()).map(({ name }) => name);
    expect(names).toEqual(["read", "count", "read"]);
  });

  it("that another screen has taken over comes back as that screen's", async () => {
    await keepCount(VISIT, counted(5));
    const theirs = counted(7, { holder: "other", term: 1, sequence: 9 });
    await enqueue(store, VISIT, { name: "count", given: theirs });
    await drain();
    // This screen has not heard of it and taps on.
    const { stands } = await keepCount(VISIT, counted(8));
    expect(stands).toMatchObject({ drops: 7, holder: "other" });
  });

  it("that is refused is one refusal however often, and goes again when it is asked again", async () => {
    for (const drops of [1, 2, 3]) {
      server.moods = ["too-large"];
      expect(await keepCount(VISIT, counted(drops))).toMatchObject({ server: "refuses" });
    }
    expect(await store.refused.toArray()).toMatchObject([{ given: { drops: 3 } }]);
    expect(await keepCount(VISIT, counted(3))).toMatchObject({ server: "has" });
    expect([await store.refused.count(), await waiting()]).toEqual([0, 0]);
  });

  it("stays when an older word of the visit arrives", async () => {
    await keepCount(VISIT, counted(9));
    await store.transaction("rw", [store.visits, store.waiting], () =>
      putVisit(store, BROUGHT, { ...NOTHING_WRITTEN, version: 1 }, null),
    );
    expect(await standing()).toMatchObject({ drops: 9 });
  });

  it("where nothing can be kept here is sent by itself", async () => {
    setMemberHere(null);
    expect(await keepCount(VISIT, counted(4))).toMatchObject({ server: "has", stands: { drops: 4 } });
    server.moods = ["silent"];
    expect(await keepCount(VISIT, counted(5))).toEqual({ server: "silent", stands: null });
    server.moods = ["reader"];
    expect(await keepCount(VISIT, counted(5))).toEqual({ server: "refuses", stands: null });
  });
});

describe("a visit that is begun here", () => {
  it("takes along what the bundle has of its basin, once", async () => {
    const basinId = uuidOf(400);
    expect(await startOffline(store, uuidOf(401), basinId)).toBeNull();
    const at = new Date();
    const packed = { ...BROUGHT, kits: BROUGHT.kits.map(({ id }) => id), olderKits: [] };
    await store.items.bulkPut([
      { key: `brought ${basinId}`, digest: "", at, value: packed },
      ...BROUGHT.kits.map(({ id, kit }) => ({ key: `kit ${id}`, digest: "", at, value: kit })),
    ]);
    expect(await startOffline(store, uuidOf(401), basinId)).toBe(uuidOf(401));
    expect(await startOffline(store, uuidOf(402), basinId)).toBe(uuidOf(401));
    const begun = await store.visits.get(uuidOf(401));
    expect(begun?.brought.visit).toMatchObject({ id: uuidOf(401), litres: 40_000 });
    expect(await store.waiting.toArray()).toMatchObject([
      { name: "start", given: { basinId, litres: 40_000 } },
    ]);
  });
});

describe("the bundle", () => {
  it("is taken in whole or not at all, and what has not changed stays", async () => {
    const at = new Date("2026-05-04T08:00:00Z");
    const item = (key: string, digest: string, value: unknown) => ({ key, digest, text: stringify(value) });
    const whole = stringify({
      at,
      today: "2026-05-04",
      items: [item("bench", "a", { kits: [] }), item("round 2026-05-04", "b", { day: 1 })],
    });
    const answer = (text: string) => vi.stubGlobal("fetch", async () => new Response(text));
    const keys = async () => (await store.items.toCollection().primaryKeys()).sort();
    for (const cut of [whole.slice(0, whole.length / 2), "<html>sign in</html>", ""]) {
      answer(cut);
      expect(await takeBundle(true)).toBe(false);
      expect(await keys()).toEqual(["home"]);
    }
    answer(whole);
    expect(await takeBundle(true)).toBe(true);
    expect(await keys()).toEqual(["bench", "home", "round 2026-05-04"]);
    expect(await bundleState(store)).toMatchObject({ today: "2026-05-04" });
    // The next one has nothing new but a day.
    answer(
      stringify({
        at,
        today: "2026-05-05",
        items: [{ key: "bench", digest: "a" }, item("round 2026-05-05", "c", 1)],
      }),
    );
    expect(await takeBundle(true)).toBe(true);
    expect((await store.items.get("bench"))?.value).toEqual({ kits: [] });
    // A server that breaks takes nothing away.
    vi.stubGlobal("fetch", async () => new Response("", { status: 500 }));
    expect(await takeBundle(true)).toBe(false);
    expect(await keys()).toContain("round 2026-05-05");
  });
});

describe("what answers a page", () => {
  afterEach(() => void vi.useRealTimers());

  it("is the device when the server hangs, and the server's word is kept when it comes", async () => {
    vi.useFakeTimers();
    const told: string[] = [];
    let answer: (text: string) => void = () => {};
    const asked = reachFirst({
      server: () => new Promise<string>((resolve) => (answer = resolve)),
      here: async () => "from here",
      keep: async (text) => told.push(text),
    });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(await asked).toBe("from here");
    answer("from the server");
    await vi.advanceTimersByTimeAsync(0);
    expect(told).toEqual(["from the server"]);
  });

  it("says so in words where nothing lies here, and lets a redirect through", async () => {
    const nothing = async () => null;
    const away = () => Promise.reject(new TypeError("Failed to fetch"));
    await expect(reachFirst({ server: away, here: nothing })).rejects.toMatchObject({
      init: { status: 599 },
    });
    const leave = new Response(null, { status: 302 });
    await expect(reachFirst({ server: () => Promise.reject(leave), here: async () => 1 })).rejects.toBe(
      leave,
    );
    const broken = () => Promise.reject(new Response(null, { status: 503 }));
    expect(await reachFirst({ server: broken, here: async () => 1 })).toBe(1);
  });
});

describe("a store", () => {
  it("of this version's first form keeps what is in it when a later one opens it", async () => {
    await enqueue(store, VISIT, alkalinity(10, uuidOf(500)));
    const { name } = store;
    store.close();
    // As a later build will: another version, another table beside.
    const later = new Dexie(name);
    later.version(1).stores({
      visits: "id, basinId",
      waiting: "++sequence, &id, visitId",
      refused: "id, visitId",
      items: "key",
      photos: "id, visitId",
      settings: "key",
    });
    later.version(2).stores({ habits: "basinId" });
    await later.open();
    expect(await later.table("waiting").toArray()).toMatchObject([{ id: uuidOf(500), name: "read" }]);
    expect((await later.table("visits").get(VISIT)).written.readings).toHaveLength(1);
    later.close();
  });

  it("that a newer version made is left alone, and said", async () => {
    const newer = new Dexie("pelagon newer");
    newer.version(99).stores({ visits: "id" });
    await newer.open();
    newer.close();
    setMemberHere("newer");
    expect(await deviceStore("newer")).toBeNull();
    expect(whyNoStore()).toBe("newer");
    expect(await Dexie.exists("pelagon newer")).toBe(true);
  });

  it("is wiped when whoever it was signs out", async () => {
    const { name } = store;
    await wipe(name.replace("pelagon ", ""));
    expect(await Dexie.exists(name)).toBe(false);
    expect(localStorage.getItem("pelagon.member")).toBeNull();
  });

  it("is whose the page is, whoever has signed in in a tab beside it", async () => {
    vi.stubGlobal("window", new EventTarget());
    vi.stubGlobal("document", new EventTarget());
    const here = memberHere();
    expect(here).not.toBeNull();
    const told: (string | null)[] = [];
    const leave = onAnotherHere(() => told.push(memberOfDevice()));
    // As another tab writes it.
    localStorage.setItem("pelagon.member", uuidOf(0x77));
    expect(memberHere()).toBe(here);
    expect((await deviceStore())?.memberId).toBe(here);
    window.dispatchEvent(new Event("storage"));
    document.dispatchEvent(new Event("visibilitychange"));
    expect(told).toEqual([uuidOf(0x77), uuidOf(0x77)]);
    leave();
    window.dispatchEvent(new Event("storage"));
    expect(told).toHaveLength(2);
    // Whoever goes does not sign the other one out.
    await wipe(here ?? "");
    expect(memberOfDevice()).toBe(uuidOf(0x77));
  });

  it("forgets the bundle after the firm's days without contact, and never what was not sent", async () => {
    const days = (count: number) => new Date(Date.now() + count * millisecondsInDay);
    await store.items.put({ key: "home", digest: "x", value: 1, at: new Date() });
    await store.visits.put({ ...((await store.visits.get(VISIT)) as KeptVisit), id: uuidOf(600) });
    await enqueue(store, VISIT, alkalinity(10, uuidOf(601)));
    expect(await forgetOverdue(store, days(400)), "a firm that says nothing").toBe(false);
    await noteContact(store, { at: new Date(), forgetDays: 7 });
    expect(await forgetOverdue(store, days(6.9))).toBe(false);
    expect(await store.items.count()).toBeGreaterThan(0);
    expect(await forgetOverdue(store, days(7.1))).toBe(true);
    expect([await store.items.count(), await bundleState(store)]).toEqual([0, null]);
    expect(await store.visits.toCollection().primaryKeys()).toEqual([VISIT]);
    expect(await waiting()).toBe(1);
    expect(await drain()).toBe("empty");
    expect(server.written.readings).toHaveLength(1);
  });

  it("is none where nothing may be kept", async () => {
    vi.stubGlobal("indexedDB", undefined);
    expect(await deviceStore("nobody")).toBeNull();
    vi.unstubAllGlobals();
    setMemberHere(null);
    expect(await deviceStore(null)).toBeNull();
  });
});

describe("work that was not sent", () => {
  it("of everybody in this browser is told, and goes into a file whole", async () => {
    await enqueue(store, VISIT, alkalinity(10, uuidOf(700)));
    await store.visits.update(VISIT, { serverVersion: 0 });
    const blob = new Blob([new Uint8Array([1, 2, 250])], { type: "image/jpeg" });
    const photo = { id: uuidOf(701), name: "photograph" as const, given: { photoId: uuidOf(701) } };
    await enqueue(store, VISIT, photo, blob);
    server.moods = ["reader"];
    await drain();
    const mine = store.memberId;
    setMemberHere(null);
    const found = await unsentHere(mine);
    expect(found).toMatchObject([{ memberId: mine, name: "Wren", entries: 2 }]);
    const file = await workFileOf(mine);
    expect(file?.commands.map(({ name }) => name)).toEqual(["read", "photograph"]);
    // A store of another's that has nothing unsent is not told of; one that is not there is not made.
    expect(await unsentHere("nobody at all")).toEqual([]);
    expect(await Dexie.exists(storeName("nobody at all"))).toBe(false);
    const text = JSON.stringify(file);
    expect(readWorkFile(text)).toEqual(file);
    expect(atob(file?.photos[uuidOf(701)] ?? "")).toBe("\x01\x02\xfa");
    if (file) expect(batchesOf(file, 25).map((batch) => batch.length)).toEqual([1, 1]);
    for (const other of ["", "[]", "{}", text.replace('"version":1', '"version":9')])
      expect(readWorkFile(other)).toBeNull();
  });

  it("is kept when everything else of somebody who is not here is forgotten", async () => {
    const [empty, full] = [`gone ${member++}`, `waits ${member++}`];
    for (const one of [empty, full]) {
      const theirs = await storeWith(one, BROUGHT);
      if (one === full) await enqueue(theirs, VISIT, alkalinity(10, uuidOf(710)));
      await noteContact(theirs, { at: new Date(), forgetDays: 7 });
      theirs.close();
    }
    const here = await storeWith(`here ${member++}`, BROUGHT);
    await forgetEverywhere(new Date(Date.now() + 6 * millisecondsInDay));
    expect(await Dexie.exists(storeName(empty))).toBe(true);
    await forgetEverywhere(new Date(Date.now() + 8 * millisecondsInDay));
    expect([await Dexie.exists(storeName(empty)), await Dexie.exists(storeName(full))]).toEqual([
      false,
      true,
    ]);
    expect(await unsentHere(full)).toMatchObject([{ entries: 1 }]);
    expect(await here.visits.count()).toBe(1);
  });

  it("by pages goes with whoever signs out: notes, counts, quick results; practice stays", async () => {
    localStorage.setItem(noteKey(VISIT), '"gate open"');
    localStorage.setItem(countKey("quick", "salt.1"), "{}");
    localStorage.setItem(practiceCountKey("x"), "{}");
    localStorage.setItem(LOOSE_KEY, JSON.stringify({ made: 2, results: [{}, {}] }));
    expect(looseHere()).toBe(2);
    await wipe(store.memberId);
    const left = [noteKey(VISIT), countKey("quick", "salt.1"), practiceCountKey("x"), LOOSE_KEY];
    expect(left.map((key) => localStorage.getItem(key) !== null)).toEqual([false, false, true, false]);
    expect(looseHere()).toBe(0);
  });
});
