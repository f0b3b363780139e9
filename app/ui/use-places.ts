import { useEffect, useState } from "react";

/** A basin as lists and choices name it. */
export interface Place {
  id: string;
  name: string;
  site: string;
}

/** Whoever opens a list waits no longer for its names than this. */
const PATIENCE_MS = 3000;

/** Every basin by name; none where the server cannot be reached. */
export async function readPlaces(): Promise<Place[]> {
  try {
    const answer = await fetch("/places", { signal: AbortSignal.timeout(PATIENCE_MS) });
    return answer.ok ? await answer.json() : [];
  } catch {
    return [];
  }
}

/** Every basin by name, read once the component stands. */
export function usePlaces(): Place[] {
  const [places, setPlaces] = useState<Place[]>([]);
  useEffect(() => {
    let here = true;
    void readPlaces().then((read) => here && setPlaces(read));
    return () => {
      here = false;
    };
  }, []);
  return places;
}
