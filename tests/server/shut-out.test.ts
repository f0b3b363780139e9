import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { changeMember } from "#server/db/members";
import { resetByAddress } from "#server/db/passwords";
import { type Client, clientOf, dataOf, faultText } from "../client";
import { PASSWORD } from "../firm";
import { openWorld, type World } from "../world";

/** What a role opened ends with it and does not revive; and passwords, changed and set anew. */
let world: World;
let owner: Client;

beforeAll(async () => {
  world = await openWorld();
  owner = await world.as(world.ours.ownerEmail);
});
afterAll(() => world.close());

const inOurs = <T>(work: Parameters<typeof asFirm<T>>[2]) => asFirm(world.db, world.ours.id, work);
const tokenOf = async (answer: Response): Promise<string> =>
  (await dataOf<{ data?: { token?: string } }>(answer)).data?.token ?? "";
const nobody = () => clientOf(world.web.address);

/** Somebody new, taken in by an invitation. */
async function newMember(role: string, by: Client = owner): Promise<{ id: string; email: string }> {
  const invited = await by.postJson("/settings/team.data", {
    command: "invite",
    id: uuid(),
    name: role,
    role,
    siteIds: [],
  });
  const email = `${uuid()}@ours.example`;
  const form = new URLSearchParams({ name: role, email, password: PASSWORD });
  expect((await nobody().post(`/join/${await tokenOf(invited)}`, form)).status).toBe(302);
  const { id } = await inOurs((scope) =>
    scope.selectFrom("member").select("id").where("email", "=", email).executeTakeFirstOrThrow(),
  );
  return { id, email };
}

const change = (id: string, to: object, by: Client = owner) =>
  by.postJson("/settings/team.data", {
    command: "change-member",
    id,
    role: "owner",
    siteIds: [],
    disabled: false,
    ...to,
  });

describe("who is shut out, or has another role", () => {
  it.each([
    ["shut out", { disabled: true }],
    ["made a technician", { role: "technician" }],
  ])("is out with all that the role opened, and stays out: %s", async (_, to) => {
    const second = await newMember("owner");
    const client = await world.as(second.email);
    const invited = await client.postJson("/settings/team.data", {
      command: "invite",
      id: uuid(),
      name: "x",
      role: "owner",
      siteIds: [],
    });
    const invitation = `/join/${await tokenOf(invited)}`;
    const fed = await client.postJson("/settings/calendar.data", {
      command: "make-feed",
      id: uuid(),
      mine: false,
    });
    const calendar = `/calendar/${await tokenOf(fed)}.ics`;
    const third = await newMember("technician", client);
    const reset = await client.postJson("/settings/team.data", {
      command: "make-reset",
      id: uuid(),
      memberId: third.id,
    });
    const passwordLink = `/reset/${await tokenOf(reset)}`;
    const opened = [invitation, calendar, passwordLink];
    for (const path of opened) expect((await nobody().get(path)).status, path).toBe(200);
    expect((await change(second.id, to)).status).toBe(200);
    const closed = async () => {
      expect((await client.get("/")).headers.get("location")).toMatch(/^\/sign-in/);
      for (const path of opened) expect((await nobody().get(path)).status, path).toBe(404);
      const form = new URLSearchParams({ name: "x", email: `${uuid()}@x.example`, password: PASSWORD });
      expect((await nobody().post(invitation, form)).status).toBe(404);
    };
    await closed();
    // Back in the old role, nothing of it comes back.
    expect((await change(second.id, { role: "owner", disabled: false })).status).toBe(200);
    await closed();
    expect((await (await world.as(second.email)).get("/")).status).toBe(200);
    await change(second.id, { disabled: true });
  });

  it("invites nobody by an invitation whose maker is no owner any more, however that came about", async () => {
    const second = await newMember("owner");
    const client = await world.as(second.email);
    const sent = { command: "invite", id: uuid(), name: "x", role: "owner", siteIds: [] };
    const invitation = `/join/${await tokenOf(await client.postJson("/settings/team.data", sent))}`;
    expect((await nobody().get(invitation)).status).toBe(200);
    await inOurs((scope) =>
      scope.updateTable("member").set({ role: "technician" }).where("id", "=", second.id).execute(),
    );
    expect((await nobody().get(invitation)).status).toBe(404);
  });

  it("changes nothing of the team any more, also with a request that was let in before", async () => {
    // As a request stands that was an owner's when it came, and waited while another demoted them.
    const author = { firmId: world.ours.id, memberId: world.ours.memberId, now: new Date() };
    const change = { id: world.ours.ownerId, role: "owner" as const, siteIds: [], disabled: false };
    await expect(inOurs((scope) => changeMember(scope, author, change))).rejects.toMatchObject({
      code: "changed",
    });
  });

  it("leaves one, when two owners demote each other at the same moment", async () => {
    const second = await newMember("owner");
    const other = await world.as(second.email);
    for (let again = 0; again < 5; again++) {
      const [one, two] = [await world.as(world.ours.ownerEmail), await world.as(second.email)];
      await Promise.all([
        change(second.id, { role: "technician" }, one),
        change(world.ours.ownerId, { role: "technician" }, two),
      ]);
      const owners = await inOurs((scope) =>
        scope
          .selectFrom("member")
          .select("id")
          .where("role", "=", "owner")
          .where("disabled_at", "is", null)
          .execute(),
      );
      expect(owners).toHaveLength(1);
      await inOurs((scope) =>
        scope
          .updateTable("member")
          .set({ role: "owner" })
          .where("id", "in", [second.id, world.ours.ownerId])
          .execute(),
      );
    }
    expect((await other.get("/settings/team")).status).not.toBe(500);
    owner = await world.as(world.ours.ownerEmail);
    await change(second.id, { disabled: true });
  });
});

describe("a password", () => {
  const NEXT = "another long password";

  it("is changed by its owner, who stays in here and is out everywhere else", async () => {
    const member = await newMember("technician");
    const [here, there] = [await world.as(member.email), await world.as(member.email)];
    const ask = (current: string, next: string) =>
      here.post("/settings.data", new URLSearchParams({ command: "change-password", current, next }));
    const wrong = await ask("not my password", NEXT);
    expect(wrong.status).toBe(422);
    expect(await faultText(wrong)).toMatch(/current password/i);
    const short = await ask(PASSWORD, "short");
    const said = await short.text();
    expect(short.status).toBe(422);
    expect(said).not.toContain('"short"');
    expect((await ask(PASSWORD, NEXT)).status).toBe(200);
    expect((await here.get("/")).status).toBe(200);
    expect((await there.get("/")).status).toBe(302);
    expect(await nobody().signedIn(member.email)).toBe("");
    const form = new URLSearchParams({ email: member.email, password: NEXT });
    expect((await nobody().post("/sign-in", form)).status).toBe(302);
  });

  it("is set anew by a link that an owner makes, once, and everybody signed in as them is out", async () => {
    const member = await newMember("technician");
    const before = await world.as(member.email);
    const make = async () =>
      tokenOf(
        await owner.postJson("/settings/team.data", {
          command: "make-reset",
          id: uuid(),
          memberId: member.id,
        }),
      );
    const old = await make();
    const token = await make();
    expect((await nobody().get(`/reset/${old}`)).status).toBe(404);
    const page = await nobody().get(`/reset/${token}`);
    expect(page.status).toBe(200);
    expect(page.headers.get("cache-control")).toBe("no-store");
    const set = (password: string) => nobody().post(`/reset/${token}`, new URLSearchParams({ password }));
    expect((await set("short")).status).toBe(422);
    const answers = await Promise.all([set(NEXT), set(NEXT)]);
    expect(answers.filter((answer) => answer.status === 302)).toHaveLength(1);
    expect((await set(NEXT)).status).toBe(404);
    expect((await before.get("/")).status).toBe(302);
    const form = new URLSearchParams({ email: member.email, password: NEXT });
    expect((await nobody().post("/sign-in", form)).status).toBe(302);
    // A technician makes no such link.
    const denied = await world.http.postJson("/settings/team", {
      command: "make-reset",
      id: uuid(),
      memberId: member.id,
    });
    expect(denied.status).toBe(403);
  });

  it("is set anew from the command line, for an owner who cannot sign in", async () => {
    expect(await resetByAddress(world.db, "nobody@ours.example", new Date())).toBeNull();
    const token = await resetByAddress(world.db, world.ours.ownerEmail.toUpperCase(), new Date());
    expect((await nobody().get(`/reset/${token}`)).status).toBe(200);
  });
});

describe("the list of who did what", () => {
  it("holds sign-ins, sign-outs and what was done to the team", async () => {
    const member = await newMember("technician");
    const client = await world.as(member.email);
    await client.post("/sign-out", "");
    const actions = await inOurs((scope) =>
      scope.selectFrom("audit").select("action").where("member_id", "=", member.id).execute(),
    );
    expect(actions.map(({ action }) => action)).toEqual(
      expect.arrayContaining(["member-joined", "signed-in", "signed-out"]),
    );
    const page = await (await owner.get("/settings/audit")).text();
    for (const said of ["Signed in", "Signed out", "Created a password link", "Changed their password"])
      expect(page, said).toContain(said);
  });
});
