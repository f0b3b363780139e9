/** The device's own map: the scheme that phones know, and the one of those that do not. */

const isOther = (): boolean =>
  typeof navigator !== "undefined" && /iPhone|iPad|Mac/.test(navigator.userAgent);

/** Opens an address. */
export function mapOf(address: string): string {
  const query = encodeURIComponent(address);
  return isOther() ? `maps:?q=${query}` : `geo:0,0?q=${query}`;
}

/** Opens a place, degrees. */
export const mapAt = (latitude: number, longitude: number): string =>
  isOther() ? `maps:?ll=${latitude},${longitude}` : `geo:${latitude},${longitude}?q=${latitude},${longitude}`;
