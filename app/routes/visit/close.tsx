import { Form, redirect } from "react-router";
import { checked } from "#core/schemas";
import { dayIn } from "#server/calendar";
import { basinById } from "#server/db/basins";
import { firmOf } from "#server/db/firms";
import { visitById } from "#server/db/visits";
import { weatherOf } from "#server/devices/weather";
import { closeVisit } from "#server/visits/judge";
import { closeSchema, uuidSchema } from "#server/visits/schemas";
import { attempt, inFirm, inFirmOnce, servicesContext } from "../../context";
import { formBody, textOf } from "../../request";
import { Button } from "../../ui/button";
import { FindingFlag } from "../../ui/finding-flag";
import { offlineAware } from "../../ui/offline";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useStored } from "../../ui/use-stored";
import { words } from "../../words";
import type { Route } from "./+types/close";
import { noteKey } from "./note-key";
import { useVisit } from "./use-visit";

/** Closes the visit. Where somebody else has closed it, the note is added to theirs, and both are told. */
export async function action({ params, request, context }: Route.ActionArgs) {
  return attempt(async () => {
    const form = await formBody(request);
    const visitId = checked(uuidSchema, params.visitId);
    const { id, note } = checked(closeSchema, {
      id: form.get("id") ?? undefined,
      note: textOf(form, "note"),
    });
    const { weather: address } = context.get(servicesContext);
    // Asked before the write begins: no row is held while somebody else's server thinks.
    const asked = await inFirm(context, async (scope, _, now) => {
      const visit = await visitById(scope, visitId);
      const basin = visit ? await basinById(scope, visit.basinId) : undefined;
      return { district: basin?.site.district ?? "", day: dayIn(now, (await firmOf(scope)).timeZone) };
    });
    const weather = await weatherOf(address, asked.district, asked.day);
    const closed = await inFirmOnce(context, id, ["close", visitId, note], (scope, author) =>
      closeVisit(scope, author, visitId, note.trim(), weather),
    );
    return redirect(`/visits/${visitId}${closed === "before" ? "?closed=before" : ""}`);
  });
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

const isText = (value: unknown): value is string => typeof value === "string";

export default function Close({ actionData }: Route.ComponentProps) {
  const { visit, findings, readings } = useVisit();
  // On this device until it is in the book: neither a server that breaks nor a reload takes it.
  const [note, setNote] = useStored(noteKey(visit.id), visit.note, isText);
  const id = useClientId("close");
  return (
    <Form method="post" className="grid max-w-2xl gap-4">
      <h2 className="text-2xl font-bold">{words.visit.closeTitle}</h2>
      <p>{words.visit.rinse}</p>
      {readings.length === 0 ? <p className="sheet p-4">{words.visit.judgeNone}</p> : null}
      {findings.length > 0 ? (
        <p className="flex flex-wrap gap-2">
          {findings.map((finding) => (
            <FindingFlag key={finding.code} finding={finding} />
          ))}
        </p>
      ) : null}
      <label className="grid gap-1 font-medium">
        {words.visit.note}
        <textarea
          name="note"
          rows={4}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          placeholder={words.visit.notePlaceholder}
        />
      </label>
      <input type="hidden" name="id" value={id(note)} readOnly suppressHydrationWarning />
      <Refused answer={actionData as SaveAnswer} />
      <Button className="justify-self-start" disabled={readings.length === 0}>
        {words.visit.finish}
      </Button>
    </Form>
  );
}
