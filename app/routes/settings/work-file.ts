import { stringify } from "devalue";
import Joi from "joi";
import { checked } from "#core/schemas";
import { uuidSchema } from "#server/commands/fields";
import { note } from "#server/db/audit";
import { teamOf } from "#server/db/members";
import { checkedPhoto } from "#server/visits/photos";
import { attempt, authorOf, inFirm, memberContext, notFound, ownerOnly, whoIs } from "../../context";
import { takeCommands, type Waited, waitedSchema } from "../../device/take-commands.server";
import { MOST_COMMANDS } from "../../device/work-file";
import { formBody, jsonOf, textOf } from "../../request";
import type { Route } from "./+types/work-file";

interface Sent {
  maker: string;
  commands: Waited[];
}

const sentSchema = Joi.object<Sent>({
  maker: uuidSchema,
  commands: Joi.array().items(waitedSchema).min(1).max(MOST_COMMANDS).required(),
});

export { onlyPosted as loader } from "../../request";

/**
 * Takes in what a member did who may not send it any more: in their name, by an owner who says so. It comes as a
 * form: `work` as JSON, and `photo` where the command is one.
 */
export const action = ({ request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const owner = ownerOnly(context);
    const form = await formBody(request);
    const { maker, commands } = checked(sentSchema, jsonOf(textOf(form, "work"), "work"));
    const made = await inFirm(context, (scope) =>
      teamOf(scope).then((all) => all.find(({ id }) => id === maker)),
    );
    if (!made) return notFound();
    const file = form.get("photo");
    const [first] = commands;
    const photo = file === null || !first ? undefined : { id: first.id, ...(await checkedPhoto(file)) };
    const answer = await takeCommands(context, {
      commands,
      // The maker's own clock is the best that is known of when it was.
      sentAt: new Date().toISOString(),
      photo,
      async mayGoOn() {
        if (!(await whoIs(request, context))) throw new Response("Signed out", { status: 401 });
        ownerOnly(context);
        context.set(memberContext, { ...owner, memberId: made.id, name: made.name, role: "technician" });
      },
    });
    context.set(memberContext, owner);
    await inFirm(context, (scope, member, now) =>
      note(scope, authorOf(member, now), "work-taken-in", made.id, {
        name: made.name,
        count: answer.results.filter((result) => !("fault" in result)).length,
      }),
    );
    return new Response(stringify(answer), { headers: { "Content-Type": "application/json" } });
  });
