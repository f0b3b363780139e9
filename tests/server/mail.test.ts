import type { AddressInfo } from "node:net";
import sharp from "sharp";
import { SMTPServer } from "smtp-server";
import { v7 as uuid } from "uuid";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { nothingFound } from "#core";
import { unseal } from "#server/auth/seal";
import { asFirm } from "#server/db/connection";
import { MAIL_STATES, mailOfVisit } from "#server/db/mail";
import { sendMail } from "#server/mail/deliver";
import { webServer } from "../../scripts/lib/world.mjs";
import { type Client, clientOf, faultText } from "../client";
import { readAt } from "../visit";
import { openWorld, type World } from "../world";

/** One letter for each visit, to whoever owns the water: sent, shown, stopped, and after everything fell over. */
const KEY = "a key for the tests, of no other use";
let world: World;
let http: Client;
let owner: Client;
let smtp: Smtp;

beforeAll(async () => {
  world = await openWorld({ SECRETS_KEY: KEY });
  http = world.http;
  owner = await world.as(world.ours.ownerEmail);
});
afterAll(() => world?.close());

/** A mail server of the tests: it keeps what it takes, and can refuse, hang up, or be slow. */
interface Smtp {
  port: number;
  taken: string[];
  asked: number;
  how: "takes" | "refuses" | "is-busy" | "hangs-up";
  close(): Promise<void>;
}

async function smtpServer(): Promise<Smtp> {
  const state: Smtp = { port: 0, taken: [], asked: 0, how: "takes", close: async () => {} };
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["STARTTLS"],
    onAuth: ({ username, password }, _, done) =>
      username === "fennmoor" && password === "s3cret"
        ? done(null, { user: username })
        : done(new Error("who are you")),
    onData(stream, _, done) {
      state.asked++;
      let text = "";
      stream.on("data", (chunk) => {
        text += chunk;
      });
      stream.on("end", () => {
        const refusal = (code: number) => Object.assign(new Error("not this one"), { responseCode: code });
        if (state.how === "refuses") return done(refusal(550));
        if (state.how === "is-busy") return done(refusal(451));
        state.taken.push(text);
        // It has it; whoever sent it never hears so.
        if (state.how === "hangs-up") {
          for (const connection of server.connections as Set<{ _socket: { destroy(): void } }>)
            connection._socket.destroy();
          return;
        }
        done();
      });
    },
  });
  server.on("error", () => {});
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", () => ready()));
  state.port = (server.server.address() as AddressInfo).port;
  state.close = () => new Promise((closed) => server.close(() => closed()));
  return state;
}

beforeEach(async () => {
  smtp = await smtpServer();
});
afterEach(() => smtp.close());

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]): Promise<T> =>
  asFirm(world.db, world.ours.id, work);
const serverOf = (port: number, more: object = {}) =>
  owner.postJson("/settings/mail.data", {
    command: "set-mail-server",
    host: "127.0.0.1",
    port,
    tls: "none",
    username: "fennmoor",
    password: "s3cret",
    sender: "office@fennmoor.example",
    ...more,
  });
const address = (email: string, isOn = true) =>
  http.postJson(`/basins/${world.ours.basinId}/customer.data`, { email, isOn });
const USING = {
  letter: async () => ({ subject: "We were here", text: "All is well" }),
  publicUrl: "https://pools.example",
  secretsKey: KEY,
};
const send = (now = new Date(), using: Parameters<typeof sendMail>[3] = USING) =>
  sendMail(world.db, world.ours.id, () => now, using);

async function visited(): Promise<string> {
  const start = await http.post(`/basins/${world.ours.basinId}`, new URLSearchParams({ id: uuid() }));
  const visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
  await http.postJson(`/visits/${visit}/look`, { id: uuid(), ...nothingFound() });
  await readAt(http, visit, { chlorine: 3, ph: [7.4, 7.6], alkalinity: 100 });
  const closed = await http.post(
    `/visits/${visit}/close.data`,
    new URLSearchParams({ id: uuid(), note: "" }),
  );
  expect(closed.status).toBe(202);
  return visit;
}
const letter = (visit: string) => inOurs((scope) => mailOfVisit(scope, visit));
const stateOf = async (visit: string) => (await letter(visit))?.state;

describe("where letters go", () => {
  it("is an address, of a site, that a technician writes down", async () => {
    expect(await faultText(await address("no address"))).toMatch(/email/i);
    expect(await faultText(await address(`${"x".repeat(300)}@example.org`))).toMatch(/email/i);
    expect((await address("ines@lodge.example")).status).toBe(200);
    const page = await (await http.get(`/basins/${world.ours.basinId}/customer`)).text();
    expect(page).toContain("ines@lodge.example");
  });

  it("is in no page of a reader, and not in the log of changes", async () => {
    const { readerEmail } = world.ours as { readerEmail?: string };
    if (readerEmail) {
      const reader = await world.as(readerEmail);
      expect((await reader.get(`/basins/${world.ours.basinId}/customer`)).status).toBe(404);
    }
    const log = await (await owner.get("/settings/audit")).text();
    expect(log).toContain("Changed where letters go");
    expect(log).not.toContain("ines@lodge.example");
  });

  it("is by a server whose password nobody reads again", async () => {
    expect((await serverOf(smtp.port)).status).toBe(200);
    const page = await (await owner.get("/settings/mail")).text();
    expect(page).not.toContain("s3cret");
    expect(page).toContain("A password is saved");
    const { password } = await inOurs((scope) =>
      scope.selectFrom("mail_server").select("password").executeTakeFirstOrThrow(),
    );
    expect(password?.toString("latin1")).not.toContain("s3cret");
    expect(unseal(password as Buffer, KEY)).toBe("s3cret");
    expect(unseal(password as Buffer, "another key, another answer")).toBeNull();
    // Saved again without one it stays; for another server it is another's.
    await serverOf(smtp.port, { password: "" });
    const kept = () =>
      inOurs((scope) => scope.selectFrom("mail_server").select("password").executeTakeFirstOrThrow());
    expect((await kept()).password).not.toBeNull();
    await serverOf(smtp.port, { password: "", host: "127.0.0.2" });
    expect((await kept()).password).toBeNull();
    expect(await faultText(await serverOf(70_000))).toMatch(/65,?535/);
    expect((await http.postJson("/settings/mail.data", { command: "remove-mail-server" })).status).toBe(403);
  });

  it("is tried before anything is sent, and says what the server said", async () => {
    await serverOf(smtp.port);
    const asked = await owner.postJson("/settings/mail/try.data", {});
    expect(await asked.text()).toContain('"works",true');
    await serverOf(smtp.port, { password: "wrong" });
    expect(await (await owner.postJson("/settings/mail/try.data", {})).text()).toContain("who are you");
  });
});

describe("the letter of a visit", () => {
  beforeEach(async () => {
    await address("ines@lodge.example");
    await serverOf(smtp.port);
    await inOurs((scope) => scope.updateTable("site_mail").set({ opted_out_at: null }).execute());
  });

  it("goes once, by the server, with a link that opens the sheet and one that stops it", async () => {
    const visit = await visited();
    expect(await stateOf(visit)).toBe("waiting");
    expect(await send()).toBe(1);
    expect(await send()).toBe(0);
    expect(smtp.taken).toHaveLength(1);
    expect(smtp.taken[0]).toMatch(/To: ines@lodge\.example/);
    expect(smtp.taken[0]).toMatch(/From: office@fennmoor\.example/);
    expect(smtp.taken[0]).toMatch(/List-Unsubscribe:\s+<https:\/\/pools\.example\/m\/[\w-]+>/);
    expect(await stateOf(visit)).toBe("sent");
    // Closed again, or asked for again: it had its letter.
    await http.post(`/visits/${visit}/close.data`, new URLSearchParams({ id: uuid(), note: "more" }));
    await http.postJson(`/visits/${visit}/customer.data`, { command: "mail-sheet" });
    expect(await send()).toBe(0);
    expect(smtp.taken).toHaveLength(1);
  });

  it("holds up none behind it where it cannot be written", async () => {
    const first = await visited();
    const second = await visited();
    let asked = 0;
    const letter = async () => {
      if (asked++ === 0) throw new Error("no such word");
      return { subject: "We were here", text: "All is well" };
    };
    await expect(send(new Date(), { ...USING, letter })).rejects.toThrow("no such word");
    expect([await stateOf(first), await stateOf(second)]).toEqual(["waiting", "sent"]);
    expect(await send()).toBe(1);
  });

  it("is one where many send at once", async () => {
    const visit = await visited();
    const counts = await Promise.all(Array.from({ length: 6 }, () => send()));
    expect(counts.reduce((sum, one) => sum + one, 0)).toBe(1);
    expect(smtp.taken).toHaveLength(1);
    expect(await stateOf(visit)).toBe("sent");
  });

  it("waits where the server is busy or gone, and longer each time, and is given up in the end", async () => {
    const visit = await visited();
    smtp.how = "is-busy";
    expect(await send()).toBe(0);
    expect(await stateOf(visit)).toBe("waiting");
    // Not at once again.
    await send();
    expect(smtp.asked).toBe(1);
    smtp.how = "takes";
    expect(await send(new Date(Date.now() + 3 * 60_000))).toBe(1);
    expect(smtp.taken).toHaveLength(1);
    const other = await visited();
    const { port } = smtp;
    await smtp.close();
    await serverOf(port);
    for (let day = 0; day < 9; day++) await send(new Date(Date.now() + day * 86_400_000));
    expect(await letter(other)).toMatchObject({ state: "failed" });
    expect((await letter(other))?.why).toMatch(/ECONNREFUSED|connect/);
    smtp = await smtpServer();
    await serverOf(smtp.port);
    await http.postJson(`/visits/${other}/customer.data`, {
      command: "mail-again",
      id: (await letter(other))?.id,
    });
    expect(await send()).toBe(1);
    expect(smtp.taken).toHaveLength(1);
  });

  it("is not tried again where the server refuses it for good", async () => {
    const visit = await visited();
    smtp.how = "refuses";
    await send();
    expect(await letter(visit)).toMatchObject({ state: "failed" });
    await send(new Date(Date.now() + 86_400_000));
    expect(smtp.asked).toBe(1);
  });

  it("is not sent a second time where the server took it and nobody heard so", async () => {
    const visit = await visited();
    smtp.how = "hangs-up";
    await send();
    expect(smtp.taken).toHaveLength(1);
    expect(await stateOf(visit)).toBe("unknown");
    smtp.how = "takes";
    await send(new Date(Date.now() + 86_400_000));
    expect(smtp.taken).toHaveLength(1);
    const page = await (await http.get(`/visits/${visit}/customer`)).text();
    expect(page).toContain("May have been sent");
  });

  it("is not sent a second time after whoever handed it over was killed", async () => {
    const visit = await visited();
    const id = (await letter(visit))?.id ?? "";
    await inOurs((scope) =>
      scope
        .updateTable("mail")
        .set({ state: "handing", handed_at: new Date() })
        .where("id", "=", id)
        .execute(),
    );
    await send();
    expect(await stateOf(visit)).toBe("handing");
    await send(new Date(Date.now() + 11 * 60_000));
    expect(await stateOf(visit)).toBe("unknown");
    expect(smtp.taken).toHaveLength(0);
  });

  it("goes to nobody who stopped it, before it was sent too; opening the page stops nothing", async () => {
    const waiting = await visited();
    const token = (
      await inOurs((scope) => scope.selectFrom("site_mail").select("token").executeTakeFirstOrThrow())
    ).token;
    const customer = clientOf(world.web.address);
    expect(await (await customer.get(`/m/${token}`)).text()).toContain("Stop letters from");
    expect(await stateOf(waiting)).toBe("waiting");
    expect((await customer.post(`/m/${token}`, new URLSearchParams())).status).toBe(200);
    expect(await stateOf(waiting)).toBe("off");
    const after = await visited();
    expect(await letter(after)).toBeNull();
    await http.postJson(`/visits/${after}/customer.data`, { command: "mail-sheet" });
    expect(await send()).toBe(0);
    expect(smtp.taken).toHaveLength(0);
    // The same address written down again has still stopped it; another has not.
    await address("ines@lodge.example");
    expect(await letter(await visited())).toBeNull();
    await address("mirel@lodge.example");
    expect(await stateOf(await visited())).toBe("waiting");
    expect(await send()).toBe(1);
    expect((await customer.get(`/m/${"x".repeat(43)}`)).status).toBe(404);
  });

  it("is shown and goes nowhere where the firm has no server", async () => {
    await owner.postJson("/settings/mail.data", { command: "remove-mail-server" });
    const visit = await visited();
    expect(await send()).toBe(1);
    expect(smtp.taken).toHaveLength(0);
    expect(await letter(visit)).toMatchObject({ state: "shown", body: "All is well" });
    expect(await (await owner.get("/settings/mail")).text()).toContain("All is well");
    await send();
    expect(MAIL_STATES).toContain(await stateOf(visit));
  });

  it("says nothing of a visit of long ago, and of none where it is turned off", async () => {
    await address("ines@lodge.example", false);
    expect(await letter(await visited())).toBeNull();
  });
});

describe("letters of a server that is killed again and again", () => {
  it("arrive once or not at all, and each that is said to be sent has arrived", async () => {
    await owner.postJson("/settings/mail.data", { command: "remove-mail-server" });
    await address("tamsin@lodge.example");
    await serverOf(smtp.port);
    const web = await webServer(world.addresses, {
      SECRETS_KEY: KEY,
      DATABASE_CONNECTIONS: "4",
      JOBS: "on",
    });
    try {
      const visits: string[] = [];
      for (let round = 0; round < 3; round++) {
        for (let count = 0; count < 4; count++) visits.push(await visited());
        // Whoever finds letters that wait has them sent every other minute; here a close asks for it at once.
        const jobs = clientOf(web.address);
        await jobs.as(world.ours.email);
        const asked = smtp.asked;
        const start = await jobs.post(`/basins/${world.ours.basinId}`, new URLSearchParams({ id: uuid() }));
        const visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
        visits.push(visit);
        await readAt(jobs, visit, { chlorine: 3, ph: [7.4, 7.6], alkalinity: 100 });
        await jobs.post(
          `/visits/${visit}/close.data`,
          new URLSearchParams({ id: uuid(), note: "Año, ñandú" }),
        );
        await expect.poll(() => smtp.asked, { timeout: 20_000, interval: 5 }).toBeGreaterThan(asked + round);
        await web.kill();
        await web.start();
      }
      await expect
        .poll(
          async () => (await Promise.all(visits.map(stateOf))).filter((state) => state === "waiting").length,
          {
            timeout: 5_000,
          },
        )
        .toBeLessThan(visits.length);
    } finally {
      await web.stop();
    }
    // What is left is sent by another, when whoever was killed has been silent for long enough.
    await send(new Date(Date.now() + 11 * 60_000));
    const letters = await inOurs((scope) =>
      scope.selectFrom("mail").select(["id", "state"]).where("email", "=", "tamsin@lodge.example").execute(),
    );
    expect(letters).toHaveLength(15);
    const arrived = (id: string) => smtp.taken.filter((text) => text.includes(`<${id}@`)).length;
    for (const { id, state } of letters) {
      expect(["sent", "unknown"], id).toContain(state);
      expect(arrived(id), `${id} ${state}`).toBeLessThanOrEqual(1);
      if (state === "sent") expect(arrived(id), id).toBe(1);
    }
    // Three kills leave at most three of which nobody can say.
    expect(letters.filter(({ state }) => state === "unknown").length).toBeLessThanOrEqual(3);
    expect(smtp.taken.join("")).toContain(`${web.address}/s/`);
  });
});

describe("a photo for the customer", () => {
  it("is on the sheet by its link while it is chosen and in sight, and no other is", async () => {
    const visit = await visited();
    const bytes = await sharp({ create: { width: 40, height: 30, channels: 3, background: "#2f5fb3" } })
      .webp()
      .toBuffer();
    const [first, second] = [uuid(), uuid()];
    await inOurs(async (scope) => {
      for (const id of [first, second])
        await scope
          .insertInto("photo")
          .values({
            id,
            firm_id: world.ours.id,
            visit_id: visit,
            member_id: world.ours.memberId,
            kind: "image/webp",
            bytes,
            taken_at: new Date(),
          })
          .execute();
    });
    const made = await http.postJson(`/visits/${visit}/customer.data`, {
      command: "share-sheet",
      id: uuid(),
      days: 7,
    });
    const token = /"token","([\w-]{20,})"/.exec(await made.text())?.[1] ?? "";
    const customer = clientOf(world.web.address);
    const photo = async (id: string) => (await customer.get(`/s/${token}/photos/${id}`)).status;
    expect(await photo(first)).toBe(404);
    const show = (photoId: string, isShown: boolean) =>
      http.postJson(`/visits/${visit}/customer.data`, { command: "show-photo", photoId, isShown });
    // On paper, too, for the customer and for the firm, as long as it is chosen.
    const onPaper = async (from: typeof customer, path: string) => {
      const answer = await from.get(path);
      expect(answer.status).toBe(200);
      return Buffer.from(await answer.arrayBuffer())
        .toString("latin1")
        .includes("/Subtype /Image");
    };
    const papers = async () => [
      await onPaper(customer, `/s/${token}/sheet.pdf`),
      await onPaper(http, `/visits/${visit}/customer.pdf`),
    ];
    expect(await papers()).toEqual([false, false]);
    expect((await show(first, true)).status).toBe(200);
    expect(await papers()).toEqual([true, true]);
    expect([await photo(first), await photo(second)]).toEqual([200, 404]);
    expect(await (await customer.get(`/s/${token}`)).text()).toContain(`/s/${token}/photos/${first}`);
    // Withdrawn after the link was sent: the link shows what is on the sheet now.
    expect((await show(first, false)).status).toBe(200);
    expect(await photo(first)).toBe(404);
    await show(first, true);
    await inOurs((scope) =>
      scope.updateTable("photo").set({ removed_at: new Date() }).where("id", "=", first).execute(),
    );
    expect(await photo(first)).toBe(404);
    expect((await show(first, true)).status).toBe(404);
    const theirs = await world.as(world.theirs.ownerEmail);
    const foreign = await theirs.postJson(`/visits/${visit}/customer.data`, {
      command: "show-photo",
      photoId: second,
      isShown: true,
    });
    expect(foreign.status).toBe(404);
  });
});
