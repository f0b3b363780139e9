import { useEffect } from "react";
import { useRevalidator } from "react-router";
import type { SaveAnswer } from "./refused";

/**
 * Reads the page anew once a save was refused because somebody else had changed it: what is shown is then what the
 * next try is made from. An answer that says no does not do that by itself.
 */
export function useFresh(answer: SaveAnswer): void {
  const { revalidate } = useRevalidator();
  useEffect(() => {
    if (answer?.fault?.code === "changed") void revalidate();
  }, [answer, revalidate]);
}
