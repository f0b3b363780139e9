import Joi from "joi";
import { API_SCOPES, type ApiScope, makeApiToken, withdrawApiToken } from "../db/api-tokens";
import { command, OWNERS } from "./command";
import { nameSchema, onlyId, uuidSchema } from "./fields";

/** Keys for programs; one answers with its secret, which is shown once. */
export const API_TOKEN_COMMANDS = {
  "make-api-token": command({
    may: OWNERS,
    schema: Joi.object<{ id: string; name: string; scopes: ApiScope[] }>({
      id: uuidSchema,
      name: nameSchema,
      scopes: Joi.array()
        .items(Joi.valid(...API_SCOPES))
        .unique()
        .min(1)
        .required(),
    }),
    carryOut: async ({ scope, author }, given) => ({ token: await makeApiToken(scope, author, given) }),
  }),
  "withdraw-api-token": command({
    may: OWNERS,
    subject: "api_token",
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => withdrawApiToken(scope, author, id),
  }),
};
