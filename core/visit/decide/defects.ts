import { InputFault } from "../../fault";
import type { Fact } from "../facts";
import type { DecisionInput } from "./input";
import { fact, isDecided } from "./seen";

/** Longest name of what is broken. */
export const LONGEST_DEFECT = 200;

/** Something is broken: it is told at every call from now on, until it is mended. */
export function reportDefect({ written, command }: DecisionInput<"report-defect">): Fact[] {
  const title = command.given.title.trim();
  const photoId = command.given.photoId ?? null;
  if (title === "") throw new InputFault("missing", "defect", title);
  if (title.length > LONGEST_DEFECT) throw new InputFault("too-long", "defect", title.length, LONGEST_DEFECT);
  if (photoId !== null && !written.photos.some(({ id }) => id === photoId))
    throw new InputFault("unknown", "photoId", photoId);
  return [
    fact(command, "defect-seen", {
      defect: { id: command.id, title, photoId, by: command.by.name, at: command.at },
    }),
  ];
}

/** It is mended, or that is taken back. The same again changes nothing. */
export function mendDefect({ brought, written, command }: DecisionInput<"mend-defect">): Fact[] {
  const { defectId, mended } = command.given;
  const known = [...(brought.defects ?? []), ...(written.defects ?? [])];
  // Taken off the list while a device was away: what was mended was mended.
  if (!known.some(({ id }) => id === defectId) && !isDecided(command.seen))
    throw new InputFault("unknown", "defectId", defectId);
  const is = (written.mended ?? []).includes(defectId);
  return is === mended ? [] : [fact(command, "defect-mended", { defectId, mended })];
}
