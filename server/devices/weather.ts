import Joi from "joi";
import type { WeatherDay } from "#core";
import { checked } from "#core/schemas";

/** What a weather service says of a day, see docs/weather.md. A visit is never held up by it. */

const PATIENCE_MS = 1500;

const daySchema = Joi.object<{ district: string; days: WeatherDay[] }>({
  district: Joi.string().required(),
  days: Joi.array()
    .items(
      Joi.object({
        day: Joi.string().required(),
        low: Joi.number().min(-60).max(60).required(),
        high: Joi.number().min(-60).max(60).required(),
        sun: Joi.number().min(0).max(24).required(),
        rain: Joi.number().min(0).max(1000).required(),
        evaporation: Joi.number().min(0).max(50).required(),
      }),
    )
    .required(),
});

/** The weather of a day in a district; null when there is no service, it does not answer, or answers nonsense. */
export const weatherOf = async (
  address: string | null,
  district: string,
  day: string,
): Promise<WeatherDay | null> => (await weatherBetween(address, district, day, day))[0] ?? null;

/** The weather of the days of a span, both ends included; none where `weatherOf` would tell null. */
export async function weatherBetween(
  address: string | null,
  district: string,
  from: string,
  to: string,
): Promise<WeatherDay[]> {
  if (!address || !district) return [];
  const url = new URL("/days", address);
  url.search = `${new URLSearchParams({ district, from, to })}`;
  try {
    const answer = await fetch(url, { signal: AbortSignal.timeout(PATIENCE_MS) });
    return answer.ok ? checked(daySchema, await answer.json()).days : [];
  } catch {
    return [];
  }
}
