import Joi from "joi";
import { LONGEST_PASSWORD, SHORTEST_PASSWORD } from "../auth/password-length";
import { ROLES } from "../auth/sessions";
import { uuidSchema } from "../visits/schemas";
import type { SentInvite, SentJoin } from "./invites";
import type { SentMember } from "./members";

/** What the team's pages may send. */

const name = Joi.string().trim().min(1).max(120).required();
const siteIds = Joi.array()
  .items(Joi.string().guid({ separator: "-" }))
  .unique()
  .max(500)
  .required();
const role = Joi.valid(...ROLES).required();

export const inviteSchema = Joi.object<SentInvite>({ id: uuidSchema, name, role, siteIds });

export const memberSchema = Joi.object<SentMember>({
  id: uuidSchema,
  role,
  siteIds,
  disabled: Joi.boolean().required(),
});

export const resetSchema = Joi.object<{ id: string; memberId: string }>({
  id: uuidSchema,
  memberId: uuidSchema,
});

export const joinSchema = Joi.object<SentJoin>({
  id: uuidSchema,
  name,
  email: Joi.string().trim().email({ tlds: false }).max(254).required(),
  password: Joi.string().min(SHORTEST_PASSWORD).max(LONGEST_PASSWORD).required(),
});
