import { inFirm, notFound } from "../../context";
import { page } from "../../device/seam";
import { seriesPage } from "../../pages/basin.server";
import type { Route } from "./+types/series";

/** A basin over the last so many days, for its charts. */
export const loader = ({ params, request, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member, now) => {
    const days = Number(new URL(request.url).searchParams.get("days") ?? 365);
    return (await seriesPage(scope, member, params.basinId, now, days)) ?? notFound();
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
