import type { DueTask } from "#core";
import { fill, words } from "./language";

/** A task with why it is due. @example taskText({ task: "shock", because: "heat", every: 7 }) // "Shock: every 7 days in heat" */
export const taskText = ({ task, because, every }: DueTask): string =>
  fill(words.taskDue[task][because], { every: every ?? 0 });
