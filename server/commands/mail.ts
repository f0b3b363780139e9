import Joi from "joi";
import { InputFault } from "#core";
import { seal } from "../auth/seal";
import { note } from "../db/audit";
import { basinById } from "../db/basins";
import {
  MAIL_TLS,
  type MailServer,
  mailServerOf,
  moveMail,
  queueMail,
  removeMailServer,
  type SiteMail,
  setMailServer,
  setSiteMail,
} from "../db/mail";
import { command, NotThere, OWNERS, WORKERS } from "./command";
import { uuidSchema } from "./fields";

const email = Joi.string()
  .trim()
  .email({ tlds: { allow: false } })
  .max(254);

/** Letters to customers: where they go, by which server, and once more where one went wrong. */
export const MAIL_COMMANDS = {
  "set-site-mail": command({
    may: WORKERS,
    schema: Joi.object<{ basinId: string } & Pick<SiteMail, "email" | "isOn">>({
      basinId: uuidSchema,
      email: email.allow("").required(),
      isOn: Joi.boolean().required(),
    }),
    async carryOut({ scope, author }, { basinId, ...mail }) {
      const basin = await basinById(scope, basinId);
      if (!basin) throw new NotThere();
      await setSiteMail(scope, author, basin.site.id, mail);
      // That it was changed, and not what it is: the log of changes outlives the customer.
      await note(scope, author, "site-mail-changed", basin.site.id, { name: basin.site.name });
    },
  }),
  "set-mail-server": command({
    may: OWNERS,
    schema: Joi.object<MailServer & { password?: string }>({
      host: Joi.string().trim().hostname().max(255).required(),
      port: Joi.number().integer().min(1).max(65_535).required(),
      tls: Joi.valid(...MAIL_TLS).required(),
      username: Joi.string().allow("").max(254).required(),
      sender: email.required(),
      /** Left out or empty, the one that stands stays. */
      password: Joi.string().allow("").max(400),
    }),
    async carryOut({ scope, author, secretsKey }, { password = "", ...server }) {
      if (password !== "" && !secretsKey) throw new InputFault("missing", "secretsKey", "");
      const before = await mailServerOf(scope);
      // A password is for the server it was typed for.
      const isSame = before?.host === server.host && before.username === server.username;
      const sealed = password !== "" && secretsKey ? seal(password, secretsKey) : isSame ? undefined : null;
      await setMailServer(scope, author, server, sealed);
      await note(scope, author, "mail-server-changed", author.firmId, { name: server.host });
    },
  }),
  "remove-mail-server": command({
    may: OWNERS,
    schema: Joi.object({}),
    async carryOut({ scope, author }) {
      const before = await mailServerOf(scope);
      if (!before) return;
      await removeMailServer(scope);
      await note(scope, author, "mail-server-changed", author.firmId, { name: "" });
    },
  }),
  /** The letter of a visit that had none: its address came later. */
  "mail-sheet": command({
    may: WORKERS,
    schema: Joi.object<{ visitId: string }>({ visitId: uuidSchema }),
    async carryOut({ scope, author }, { visitId }) {
      const visit = await scope.selectFrom("visit").select("id").where("id", "=", visitId).executeTakeFirst();
      if (!visit) throw new NotThere();
      await queueMail(scope, author.firmId, visitId, author.now);
    },
  }),
  /** Once more, by somebody who knows that it did not arrive. */
  "mail-again": command({
    may: WORKERS,
    schema: Joi.object<{ id: string; visitId?: string }>({ id: uuidSchema, visitId: uuidSchema.optional() }),
    async carryOut({ scope, author }, { id }) {
      const again = { not_before: author.now, done_at: null, tries: 0, why: "" };
      for (const from of ["failed", "unknown"] as const)
        if (await moveMail(scope, id, from, "waiting", again)) return;
    },
  }),
};
