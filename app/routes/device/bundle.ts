import { stringify } from "devalue";
import Joi from "joi";
import { checked } from "#core/schemas";
import { attempt, inFirm, workerOnly } from "../../context";
import { bundleFor } from "../../device/bundle.server";
import { jsonBody } from "../../request";
import type { Route } from "./+types/bundle";

/** Basins that were opened and are taken along besides those of the round. */
const MOST_BASINS = 20;

const bundleSchema = Joi.object<{ have: Record<string, string>; basins: string[] }>({
  /** Digest of each item that the device has. */
  have: Joi.object().pattern(Joi.string().max(80), Joi.string().max(64)).max(500).default({}),
  basins: Joi.array()
    .items(Joi.string().guid({ separator: "-" }))
    .max(MOST_BASINS)
    .default([]),
});

export { onlyPosted as loader } from "../../request";

/**
 * What a device takes along: today's and tomorrow's round, each of its basins with what a call there needs,
 * the visits under way, the quick bench. Only what changed since is sent.
 */
export const action = ({ request, context }: Route.ActionArgs) =>
  attempt(async () => {
    const asked = checked(bundleSchema, await jsonBody(request));
    const bundle = await inFirm(context, (scope, member, now) =>
      bundleFor(scope, workerOnly(member), now, asked),
    );
    return new Response(stringify(bundle), { headers: { "Content-Type": "application/json" } });
  });
