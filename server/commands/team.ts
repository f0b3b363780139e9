import Joi from "joi";
import { ROLES } from "#core";
import { type InviteInput, invite, withdrawInvite } from "../db/invites";
import { changeMember, type MemberInput } from "../db/members";
import { makeReset } from "../db/passwords";
import { command, OWNERS } from "./command";
import { nameSchema, onlyId, uuidSchema } from "./fields";

const siteIds = Joi.array()
  .items(Joi.string().guid({ separator: "-" }))
  .unique()
  .max(500)
  .required();
const role = Joi.valid(...ROLES).required();

/** An invitation and a reset answer with their secret, which is shown once. */
export const TEAM_COMMANDS = {
  invite: command({
    may: OWNERS,
    schema: Joi.object<InviteInput>({ id: uuidSchema, name: nameSchema, role, siteIds }),
    carryOut: async ({ scope, author }, sent) => ({ token: await invite(scope, author, sent) }),
  }),
  "withdraw-invitation": command({
    may: OWNERS,
    subject: "invite",
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => withdrawInvite(scope, author, id),
  }),
  "make-reset": command({
    may: OWNERS,
    schema: Joi.object<{ id: string; memberId: string }>({ id: uuidSchema, memberId: uuidSchema }),
    carryOut: async ({ scope, author }, sent) => ({ token: await makeReset(scope, author, sent) }),
  }),
  "change-member": command({
    may: OWNERS,
    schema: Joi.object<MemberInput>({ id: uuidSchema, role, siteIds, disabled: Joi.boolean().required() }),
    carryOut: ({ scope, author }, member) => changeMember(scope, author, member),
  }),
};
