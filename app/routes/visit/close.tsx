import { useState } from "react";
import { Form, redirect } from "react-router";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { dayIn } from "#server/calendar";
import { basinById } from "#server/db/basins";
import { firmOf } from "#server/db/firms";
import { visitById } from "#server/db/visits";
import { weatherOf } from "#server/devices/weather";
import { closeVisit } from "#server/visits/judge";
import { noteSchema, uuidSchema } from "#server/visits/schemas";
import { authorOf, inFirm, refuse, servicesContext } from "../../context";
import { Button } from "../../ui/button";
import { FindingFlag } from "../../ui/finding-flag";
import { offlineAware } from "../../ui/offline";
import { faultSentence, words } from "../../words";
import type { Route } from "./+types/close";
import { useVisit } from "./use-visit";

export async function action({ params, request, context }: Route.ActionArgs) {
  const form = await request.formData();
  try {
    const visitId = checked(uuidSchema, params.visitId);
    const { note } = checked(noteSchema, { note: String(form.get("note") ?? "") });
    const { weather: address } = context.get(servicesContext);
    // Asked before the write begins: no row is held while somebody else's server thinks.
    const asked = await inFirm(context, async (scope, _, now) => {
      const visit = await visitById(scope, visitId);
      const basin = visit ? await basinById(scope, visit.basinId) : undefined;
      return { district: basin?.site.district ?? "", day: dayIn(now, (await firmOf(scope)).timeZone) };
    });
    const weather = await weatherOf(address, asked.district, asked.day);
    await inFirm(context, (scope, member, now) =>
      closeVisit(scope, authorOf(member, now), visitId, note.trim(), weather),
    );
    return redirect(`/visits/${visitId}`);
  } catch (fault) {
    if (fault instanceof InputFault) return refuse(fault);
    throw fault;
  }
}

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export default function Close({ actionData }: Route.ComponentProps) {
  const { visit, findings, readings } = useVisit();
  const [note, setNote] = useState(visit.note);
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
      {actionData && "fault" in actionData ? (
        <p role="alert" className="text-above">
          {faultSentence(actionData.fault)}
        </p>
      ) : null}
      {actionData && "offline" in actionData ? (
        <p role="alert" className="text-below">
          {words.visit.offline}
        </p>
      ) : null}
      <Button className="justify-self-start" disabled={readings.length === 0}>
        {words.visit.finish}
      </Button>
    </Form>
  );
}
