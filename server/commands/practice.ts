import Joi from "joi";
import { type PractisedTest, tellPractised } from "../db/practised";
import { command, WORKERS } from "./command";
import { daySchema } from "./fields";

interface Told {
  tests: PractisedTest[];
  /** Own scatter stands in for the default in own readings from now on. */
  used: boolean;
}

const count = Joi.number().integer().min(0).max(100_000).required();

/** What somebody practised, told to the firm by themselves; an empty list takes it back. */
export const PRACTICE_COMMANDS = {
  "tell-practice": command({
    may: WORKERS,
    schema: Joi.object<Told>({
      tests: Joi.array()
        .items(
          Joi.object<PractisedTest>({
            methodId: Joi.string().max(60).required(),
            runs: count.min(1),
            trapsSeen: count,
            trapsMissed: count,
            lastOn: daySchema,
            bias: Joi.number().min(-1).max(1).allow(null).required(),
            scatter: Joi.number().min(0).max(1).allow(null).required(),
          }),
        )
        .max(40)
        .unique("methodId")
        .required(),
      used: Joi.boolean().required(),
    }),
    carryOut: ({ scope, author }, { tests, used }) => tellPractised(scope, author, tests, used),
  }),
};
