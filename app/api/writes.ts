import type { CommandName } from "#core";
import { COMMAND_SCHEMAS } from "#core/schemas";
import { type FirmCommandName, schemaOf } from "#server/commands/index";
import type { ApiScope } from "#server/db/api-tokens";
import { performCommand } from "../commands";
import { carriedOut } from "../device/action.server";
import { id, object, orNull, text } from "./json-schema";
import type { Operation } from "./operation";

/** What programs may write: commands of the pages and of visits, each at an address of its own. */

interface Write {
  path: string;
  scope?: ApiScope;
  /** What is made is made under the key of the request where the body names none. */
  makes?: boolean;
}

/** Which commands of a firm are open, and where. */
const FIRM_WRITES = {
  "start-visit": { path: "/visits", scope: "write-visits", makes: true },
  "attach-result": { path: "/basins/{basinId}/results", scope: "write-visits" },
  "add-basin": { path: "/basins", makes: true },
  "change-basin": { path: "/basins/{basinId}" },
  "set-limits": { path: "/basins/{basinId}/limits" },
  "measure-volume": { path: "/basins/{basinId}/volumes", makes: true },
  "save-wishes": { path: "/basins/{basinId}/contract" },
  "save-place": { path: "/basins/{basinId}/place" },
  "set-call-days": { path: "/basins/{basinId}/call-days" },
  "add-event": { path: "/basins/{basinId}/events", makes: true },
  "remove-event": { path: "/events/{id}/remove" },
  "skip-call": { path: "/basins/{basinId}/skips" },
  "move-calls": { path: "/week/moves", makes: true },
  "save-product": { path: "/products", makes: true },
  "save-delivery": { path: "/deliveries", makes: true },
  "remove-delivery": { path: "/deliveries/{id}/remove" },
  "save-bottle": { path: "/bottles", makes: true },
  "empty-bottle": { path: "/bottles/{id}/empty" },
  "load-truck": { path: "/trucks/{truckId}/loads" },
} as const satisfies Partial<Record<FirmCommandName, Write>>;

/** Where each command of a visit is; null for what only a device at the water sends: photos, places, counts under way. */
const VISIT_WRITES = {
  look: "look",
  sample: "sample",
  read: "tests",
  give: "doses",
  "begin-plan": "plans",
  "settle-step": "plan-steps",
  "stop-plan": "plan-end",
  "report-incident": "incidents",
  "end-incident": "incident-end",
  "end-job": "job-end",
  "report-defect": "defects",
  "mend-defect": "defect-end",
  work: "work",
  "read-plant": "plant",
  close: "close",
  correct: "corrections",
  count: null,
  place: null,
  photograph: null,
  "hide-photo": null,
} as const satisfies Record<CommandName, string | null>;

type OpenVisitCommand = {
  [Name in CommandName]: (typeof VISIT_WRITES)[Name] extends string ? Name : never;
}[CommandName];

const firmWrite = (name: keyof typeof FIRM_WRITES): Operation => {
  const { path, scope = "manage", makes = false }: Write = FIRM_WRITES[name];
  return {
    id: name,
    method: "POST",
    path,
    scope,
    body: schemaOf(name),
    isMadeUnderKey: makes,
    answer: object({ id: orNull(id) }),
    async run({ context, body, key }) {
      const answer = await performCommand(context, name, body, undefined, key);
      return { id: typeof answer === "string" ? answer : typeof body.id === "string" ? body.id : null };
    },
  };
};

const visitWrite = (name: OpenVisitCommand): Operation => ({
  id: `visit-${name}`,
  method: "POST",
  path: `/visits/{visitId}/${VISIT_WRITES[name]}`,
  scope: "write-visits",
  body: COMMAND_SCHEMAS[name],
  answer: object({ visitId: id, answer: orNull(text) }),
  async run({ context, params: { visitId }, body, key }) {
    const { visitId: _, ...given } = body;
    const { record, answer } = await carriedOut(context, { visitId, name, given, id: key });
    return { visitId: record.brought.visit.id, answer };
  },
});

export const WRITES: readonly Operation[] = [
  ...(Object.keys(FIRM_WRITES) as (keyof typeof FIRM_WRITES)[]).map(firmWrite),
  ...(Object.entries(VISIT_WRITES) as [OpenVisitCommand, string | null][]).flatMap(([name, path]) =>
    path === null ? [] : [visitWrite(name)],
  ),
];
