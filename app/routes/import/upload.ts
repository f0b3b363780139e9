import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { isUuid } from "#server/commands/fields";
import { askToStop, beginRun, endRun, fileOf, forgetFile, type ImportFile } from "#server/db/import-files";
import { begun } from "#server/exchange/import/importing";
import { mappingSchema } from "#server/exchange/import/mapping";
import {
  attemptJson,
  inFirm,
  notFound,
  notYet,
  ownerOnly,
  servicesContext,
  toldOfWrites,
} from "../../context";
import { jsonFields } from "../../request";
import type { Route } from "./+types/upload";
import { uploadView } from "./view.server";

type Args = Pick<Route.ActionArgs, "params" | "context">;

const found = async ({ params, context }: Args): Promise<ImportFile> => {
  ownerOnly(context);
  if (!isUuid(params.uploadId)) return notFound();
  return (await inFirm(context, (scope) => fileOf(scope, params.uploadId))) ?? notFound();
};

/** How far an import has come. */
export async function loader(args: Route.LoaderArgs) {
  // What the queue has put in by now is to be found in the book.
  toldOfWrites(args.context);
  return Response.json(uploadView(await found(args)));
}

type Step = (args: Args, file: ImportFile, mapping: unknown) => Promise<void>;

/** Begins to try a file, or to put it in; it goes on by itself, on whichever server takes it. */
const begin =
  (dry: boolean): Step =>
  async ({ context }, file, given) => {
    const { firmId } = ownerOnly(context);
    const jobs = context.get(servicesContext).jobs();
    if (!jobs) return notYet();
    const mapping = file.table && !file.table.own ? checked(mappingSchema, given) : null;
    await inFirm(context, (scope, _, now) => beginRun(scope, file, { dry, mapping }, now));
    try {
      await jobs.importFile({ firmId, fileId: file.id });
    } catch (fault) {
      // Nobody would ever take it.
      const failed = { ...begun(dry), state: "failed" as const };
      await inFirm(context, (scope) => endRun(scope, file.id, null, failed));
      throw fault;
    }
  };

const STEPS: Record<string, Step> = {
  try: begin(true),
  run: begin(false),
  stop: ({ context }, { id }) => inFirm(context, (scope) => askToStop(scope, id)),
  forget: ({ context }, { id }) => inFirm(context, (scope) => forgetFile(scope, id)),
};

/** Tries a file, puts it in, stops, or forgets it. */
export async function action(args: Route.ActionArgs) {
  const file = await found(args);
  return attemptJson(async () => {
    const { command, mapping } = await jsonFields(args.request);
    const step = typeof command === "string" && Object.hasOwn(STEPS, command) ? STEPS[command] : undefined;
    if (!step) throw new InputFault("unknown", "command", command, Object.keys(STEPS));
    await step(args, file, mapping);
    return uploadView(command === "forget" ? file : await found(args));
  });
}
