import { useEffect, useState } from "react";

/** A basin as lists and choices name it. */
export interface Place {
  id: string;
  name: string;
  site: string;
}

/** Every basin by name, fetched once the page stands; none while the server cannot be reached. */
export function usePlaces(): Place[] {
  const [places, setPlaces] = useState<Place[]>([]);
  useEffect(() => {
    const gone = new AbortController();
    fetch("/places", { signal: gone.signal })
      .then((answer) => (answer.ok ? answer.json() : []))
      .then(setPlaces, () => {});
    return () => gone.abort();
  }, []);
  return places;
}
