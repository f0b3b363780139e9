import Joi from "joi";
import { TASKS, type Task } from "#core";
import { type BasinEvent, removeEvent, saveEvent, saveTaskDone } from "../db/rounds";
import {
  assignCall,
  type CallInput,
  type OrderInput,
  orderCalls,
  type SkipInput,
  skipCall,
} from "../round/change";
import { command, WORKERS } from "./command";
import { daySchema, memberOrNobody, nameSchema, onlyId, uuidSchema } from "./fields";

const version = Joi.number().integer().min(0).max(1_000_000).required();

export const ROUND_COMMANDS = {
  "order-calls": command({
    may: WORKERS,
    schema: Joi.object<OrderInput>({
      day: daySchema,
      version,
      basinIds: Joi.array()
        .items(Joi.string().guid({ separator: "-" }))
        .unique()
        .max(500)
        .required(),
    }),
    carryOut: ({ scope, author }, order) => orderCalls(scope, author, order),
  }),
  "assign-call": command({
    may: WORKERS,
    schema: Joi.object<CallInput>({ day: daySchema, version, basinId: uuidSchema, memberId: memberOrNobody }),
    carryOut: ({ scope, author }, call) => assignCall(scope, author, call),
  }),
  "skip-call": command({
    may: WORKERS,
    schema: Joi.object<SkipInput>({
      day: daySchema,
      basinId: uuidSchema,
      why: Joi.string().allow("").max(400).required(),
    }),
    carryOut: ({ scope, author }, call) => skipCall(scope, author, call),
  }),
  "tick-task": command({
    may: WORKERS,
    schema: Joi.object<{ id: string; basinId: string; task: Task }>({
      id: uuidSchema,
      basinId: uuidSchema,
      task: Joi.valid(...TASKS).required(),
    }),
    once: (task) => ({ key: task.id, content: ["task", task] }),
    carryOut: ({ scope, author }, task) => saveTaskDone(scope, author, task),
  }),
  "add-event": command({
    may: WORKERS,
    schema: Joi.object<BasinEvent>({ id: uuidSchema, basinId: uuidSchema, day: daySchema, name: nameSchema }),
    once: (event) => ({ key: event.id, content: ["event", event] }),
    carryOut: ({ scope, author }, event) => saveEvent(scope, author, event),
  }),
  "remove-event": command({
    may: WORKERS,
    subject: "basin_event",
    schema: onlyId,
    carryOut: ({ scope, author }, { id }) => removeEvent(scope, id, author.now),
  }),
};
