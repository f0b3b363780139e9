import { InputFault } from "../../fault";
import { checkMeter, isPlantKind, PLANT_KINDS, plantValue } from "../../work/plant";
import type { Fact } from "../facts";
import type { DecisionInput } from "./input";
import { fact } from "./seen";

/** Writes down what a gauge or a display shows, in place of what was read there at this visit before. */
export function readPlant({ brought, written, command }: DecisionInput<"read-plant">): Fact[] {
  const { kind, changed } = command.given;
  if (!isPlantKind(kind)) throw new InputFault("unknown", "plant", kind, PLANT_KINDS);
  const value = plantValue(kind, command.given.value);
  const before = written.plant?.find((one) => one.kind === kind);
  if (before?.value === value && before.changed === changed) return [];
  const last = brought.plantBefore?.findLast((one) => one.kind === kind);
  if (kind === "waterMeter") checkMeter(value, last?.value ?? null, changed);
  return [
    fact(command, "plant-read", {
      reading: { id: command.id, kind, value, changed, by: command.by.name, at: command.at },
      supersedes: before?.id ?? null,
    }),
  ];
}
