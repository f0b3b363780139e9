import { createServer } from "node:http";
import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import { getTimes } from "suncalc";
import { isDay, normal, seeded, type WeatherDay } from "#core";

/**
 * Weather that is not there: a district's days, the same for everybody who asks. It speaks HTTP as
 * `docs/weather.md` says.
 */

interface District {
  latitude: number;
  longitude: number;
  /** Mean of the year and half the swing of the seasons, °C. */
  mean: number;
  swing: number;
  seed: number;
}

/** Orrin Vale: the upper town stands 400 m above the lower. */
const DISTRICTS: Record<string, District> = {
  "Upper Town, Orrin Vale": { latitude: 40.4, longitude: -105.6, mean: 5.5, swing: 11, seed: 11 },
  "Lower Town, Orrin Vale": { latitude: 40.3, longitude: -105.4, mean: 8.2, swing: 11.5, seed: 11 },
};

/** Days after midsummer by which the warmest day comes. */
const LAG = 30;

/** A day of a district. The same day is always the same. */
export function weatherOn(name: string, day: string): WeatherDay | null {
  const district = DISTRICTS[name];
  if (!district || !isDay(day)) return null;
  const noon = new Date(`${day}T12:00:00Z`);
  const ordinal = Math.floor((noon.getTime() - Date.UTC(noon.getUTCFullYear(), 0, 1)) / millisecondsInDay);
  const season = Math.cos(((ordinal - 172 - LAG) / 365) * 2 * Math.PI);
  // Fronts last some days: the noise of a day is shared with those before it.
  const front = [0, 1, 2, 3].reduce(
    (sum, back) => sum + noiseOf(district.seed, noon.getTime() - back * millisecondsInDay) * 0.6 ** back,
    0,
  );
  const cloud = Math.min(1, Math.max(0, 0.38 - 0.22 * front));
  const wet = cloud > 0.62;
  const mean = district.mean + district.swing * season + 2.4 * front;
  const range = 6 + 9 * (1 - cloud);
  const low = round(mean - range / 2);
  const high = round(mean + range / 2);
  const { sunrise, sunset } = getTimes(noon, district.latitude, district.longitude);
  // In these latitudes the sun rises and sets every day.
  const daylight = sunrise && sunset ? (sunset.getTime() - sunrise.getTime()) / millisecondsInHour : 12;
  return {
    day,
    low,
    high,
    sun: round(daylight * (1 - cloud)),
    rain: wet ? round((cloud - 0.62) * 40) : 0,
    evaporation: round(evaporation(district.latitude, ordinal + 1, low, high)),
  };
}

const round = (value: number): number => Math.round(value * 10) / 10;
const noiseOf = (seed: number, at: number): number =>
  normal(seeded(seed + Math.floor(at / millisecondsInDay) * 7919));

/**
 * Reference evaporation from temperature alone, mm a day.
 * Hargreaves and Samani 1985, as in FAO Irrigation and Drainage Paper 56, equations 52 and 21 to 25.
 */
function evaporation(latitude: number, ordinal: number, low: number, high: number): number {
  const phi = (latitude * Math.PI) / 180;
  const angle = (2 * Math.PI * ordinal) / 365;
  const nearness = 1 + 0.033 * Math.cos(angle);
  const declination = 0.409 * Math.sin(angle - 1.39);
  const sunset = Math.acos(-Math.tan(phi) * Math.tan(declination));
  // Extraterrestrial radiation, MJ/m² a day; 0.408 turns it into mm of water.
  const radiation =
    ((24 * 60) / Math.PI) *
    0.082 *
    nearness *
    (sunset * Math.sin(phi) * Math.sin(declination) +
      Math.cos(phi) * Math.cos(declination) * Math.sin(sunset));
  return Math.max(0, 0.0023 * ((low + high) / 2 + 17.8) * Math.sqrt(high - low) * 0.408 * radiation);
}

const MOST_DAYS = 400;

/** Starts it on loopback, at a port of its own. */
export async function startWeather(): Promise<{ port: number; stop: () => Promise<void> }> {
  const server = createServer((request, response) => {
    const send = (status: number, body: unknown) =>
      response.writeHead(status, { "Content-Type": "application/json" }).end(JSON.stringify(body));
    const { pathname, searchParams } = new URL(request.url ?? "/", "http://weather");
    if (pathname === "/districts") return send(200, { districts: Object.keys(DISTRICTS) });
    if (pathname !== "/days") return send(404, { error: "not-found" });
    const district = searchParams.get("district") ?? "";
    const from = searchParams.get("from") ?? "";
    const to = searchParams.get("to") ?? from;
    if (!DISTRICTS[district]) return send(404, { error: "unknown-district" });
    if (!isDay(from) || !isDay(to) || to < from) return send(400, { error: "bad-days" });
    const days: (WeatherDay | null)[] = [];
    for (
      let at = Date.parse(`${from}T12:00:00Z`);
      at <= Date.parse(`${to}T12:00:00Z`) && days.length < MOST_DAYS;
      at += millisecondsInDay
    )
      days.push(weatherOn(district, new Date(at).toISOString().slice(0, 10)));
    return send(200, { district, days });
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const address = server.address();
  return {
    port: typeof address === "object" && address ? address.port : 0,
    stop: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}
