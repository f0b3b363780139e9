import Joi from "joi";
import { InputFault } from "#core";
import { seal } from "../auth/seal";
import { newToken } from "../auth/tokens";
import {
  addWebhook,
  switchOn,
  tellAgain,
  WEBHOOK_EVENTS,
  type WebhookEvent,
  withdrawWebhook,
} from "../db/webhooks";
import { command, NotThere, OWNERS } from "./command";
import { onlyId, uuidSchema } from "./fields";

/** Addresses that are told what happened; one answers with its secret, which is shown once. */
export const WEBHOOK_COMMANDS = {
  "add-webhook": command({
    may: OWNERS,
    schema: Joi.object<{ id: string; url: string; events: WebhookEvent[] }>({
      id: uuidSchema,
      url: Joi.string()
        .uri({ scheme: ["https", "http"] })
        .max(2000)
        .required(),
      events: Joi.array()
        .items(Joi.valid(...WEBHOOK_EVENTS))
        .unique()
        .min(1)
        .required(),
    }),
    async carryOut({ scope, author, secretsKey }, given) {
      if (!secretsKey) throw new InputFault("missing", "secretsKey", "");
      const { username, password } = new URL(given.url);
      if (username || password) throw new InputFault("malformed", "url", new URL(given.url).host);
      const secret = newToken();
      await addWebhook(scope, author, { ...given, secret: seal(secret, secretsKey) });
      return { token: secret };
    },
  }),
  "withdraw-webhook": command({
    may: OWNERS,
    subject: "webhook",
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => withdrawWebhook(scope, author, id),
  }),
  "switch-webhook-on": command({
    may: OWNERS,
    subject: "webhook",
    schema: onlyId,
    carryOut: ({ scope }, { id }) => switchOn(scope, id),
  }),
  "tell-again": command({
    may: OWNERS,
    schema: onlyId,
    async carryOut({ scope, author }, { id }) {
      if (!(await tellAgain(scope, id, author.now))) throw new NotThere();
    },
  }),
};
