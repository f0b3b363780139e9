import Joi from "joi";
import { InputFault } from "#core";
import { defectById, dropDefect, isOpen, saveQuote } from "../db/defects";
import { command, NotThere, WORKERS } from "./command";
import { uuidSchema } from "./fields";

/** What is broken at a basin: offered for an amount, or left as it is. That it was seen and mended is its visits'. */
export const DEFECT_COMMANDS = {
  "quote-defect": command({
    may: WORKERS,
    schema: Joi.object<{ id: string; basinId: string; defectId: string; amount: number; text: string }>({
      id: uuidSchema,
      basinId: uuidSchema,
      defectId: uuidSchema,
      amount: Joi.number().min(0).max(1_000_000).required(),
      text: Joi.string().trim().allow("").max(2000).default(""),
    }),
    once: ({ id, ...quote }) => ({ key: id, content: ["quote", quote] }),
    async carryOut({ scope, author }, { basinId, ...quote }) {
      const defect = await defectById(scope, quote.defectId);
      if (defect?.basinId !== basinId) throw new NotThere();
      if (!isOpen(defect)) throw new InputFault("inconsistent", "defect", defect.state);
      await saveQuote(scope, author, quote);
    },
  }),
  "drop-defect": command({
    may: WORKERS,
    schema: Joi.object<{ basinId: string; defectId: string; why: string; dropped: boolean }>({
      basinId: uuidSchema,
      defectId: uuidSchema,
      why: Joi.string().trim().allow("").max(400).default(""),
      dropped: Joi.boolean().default(true),
    }),
    async carryOut({ scope, author }, { basinId, defectId, why, dropped }) {
      const defect = await defectById(scope, defectId);
      if (defect?.basinId !== basinId) throw new NotThere();
      if (dropped && why === "") throw new InputFault("missing", "why", why);
      await dropDefect(scope, defectId, why, dropped ? author.now : null);
    },
  }),
};
