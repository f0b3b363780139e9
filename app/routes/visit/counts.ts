import { InputFault } from "#core";
import { notFound } from "../../context";
import { carriedOut } from "../../device/action.server";
import { faultView } from "../../fault";
import { jsonFields } from "../../request";
import type { Route } from "./+types/counts";

/** Keeps a count under way; answers with the one that stands, see `laterCount`. */
export async function action({ params, request, context }: Route.ActionArgs) {
  try {
    const given = (await jsonFields(request)) as unknown as Parameters<
      typeof carriedOut<"count">
    >[1]["given"];
    const { record } = await carriedOut(context, { visitId: params.visitId, name: "count", given });
    const { keptAt: _, ...stands } = record.written.counts[given.methodId] ?? { keptAt: null };
    return Response.json({ stands });
  } catch (fault) {
    if (fault instanceof InputFault && fault.field === "visit") return notFound();
    if (fault instanceof InputFault) return Response.json({ fault: faultView(fault) }, { status: 422 });
    throw fault;
  }
}
