import { memberHere } from "./member";

/**
 * Whether this device marks where visits begin and end: the choice of each member who works on it, kept on the device
 * alone. What one turned on marks nobody else.
 */

const keyHere = (): string | null => {
  const member = memberHere();
  return member === null ? null : `pelagon.place.${member}`;
};

/** A place of a minute ago is as good; one that does not come in this time is left out. ms */
const MOST_AGE = 60_000;
const PATIENCE = 20_000;

export interface Spot {
  latitude: number;
  longitude: number;
  /** Metres. */
  accuracy: number;
}

export function marksPlace(): boolean {
  try {
    const key = keyHere();
    return key !== null && localStorage.getItem(key) === "on";
  } catch {
    return false;
  }
}

export function setMarksPlace(on: boolean): void {
  const key = keyHere();
  if (key === null) return;
  if (on) localStorage.setItem(key, "on");
  else localStorage.removeItem(key);
}

/** Where the device is; null where it does not say. */
export const whereHere = (): Promise<Spot | null> =>
  new Promise((tell) => {
    if (!("geolocation" in navigator)) return tell(null);
    navigator.geolocation.getCurrentPosition(
      ({ coords: { latitude, longitude, accuracy } }) => tell({ latitude, longitude, accuracy }),
      () => tell(null),
      { enableHighAccuracy: true, maximumAge: MOST_AGE, timeout: PATIENCE },
    );
  });
