/** Whether this device marks where visits begin and end: its user's own choice, kept on the device alone. */

const KEY = "pelagon.place";
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
    return localStorage.getItem(KEY) === "on";
  } catch {
    return false;
  }
}

export function setMarksPlace(on: boolean): void {
  if (on) localStorage.setItem(KEY, "on");
  else localStorage.removeItem(KEY);
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
