import Joi from "joi";
import { LONGEST_PASSWORD, SHORTEST_PASSWORD } from "../auth/password-length";
import { nameSchema, uuidSchema } from "../commands/fields";
import type { JoinInput } from "../db/invites";

/** What somebody sends who takes up an invitation. */
export const joinSchema = Joi.object<JoinInput>({
  id: uuidSchema,
  name: nameSchema,
  email: Joi.string().trim().email({ tlds: false }).max(254).required(),
  password: Joi.string().min(SHORTEST_PASSWORD).max(LONGEST_PASSWORD).required(),
});
