import { useEffect } from "react";
import { marksPlace, whereHere } from "../../device/place-mark";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

/** Marks where the visit begins, or ends, where this device's user allows it; asks for nothing else. */
export function usePlaceMark(which: "start" | "end"): void {
  const { visit, places } = useVisit();
  const { send } = useSend(`/visits/${visit.id}/place`);
  const isOver = visit.finishedAt !== null || places?.[which] !== undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each visit that is opened
  useEffect(() => {
    if (isOver || !marksPlace()) return;
    let gone = false;
    void whereHere().then((spot) => {
      if (spot && !gone) send({ which, ...spot });
    });
    return () => {
      gone = true;
    };
  }, [visit.id, isOver, which]);
}
