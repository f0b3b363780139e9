import { inFirmLately, notFound, secondsBehind } from "../../context";
import { page } from "../../device/seam";
import { seriesPage } from "../../pages/basin.server";
import type { Route } from "./+types/series";

/** A basin over the last so many days, for its charts. */
export const loader = ({ params, request, context }: Route.LoaderArgs) =>
  inFirmLately(request, context, async (scope, member, now, asOf) => {
    const days = Number(new URL(request.url).searchParams.get("days") ?? 365);
    const series = (await seriesPage(scope, member, params.basinId, now, days)) ?? notFound();
    return { ...series, behind: secondsBehind(asOf, now) };
  });

/** Of another span than the last year only the server can tell. */
export const clientLoader = ({ params, request, serverLoader }: Route.ClientLoaderArgs) =>
  page<Awaited<ReturnType<typeof serverLoader>>>(
    serverLoader,
    `series ${params.basinId}${daysIn(request.url)}`,
  );

const daysIn = (url: string): string => {
  const days = new URL(url).searchParams.get("days");
  return days === null || days === "365" ? "" : ` ${days}`;
};
