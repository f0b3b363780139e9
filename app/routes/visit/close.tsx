import { Form } from "react-router";
import { onServer } from "../../device/action.server";
import { closeCommand } from "../../device/page-command";
import { onDevice } from "../../device/seam";
import { Button } from "../../ui/button";
import { FindingFlag } from "../../ui/finding-flag";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useStored } from "../../ui/use-stored";
import { words } from "../../words";
import type { Route } from "./+types/close";
import { noteKey } from "./note-key";
import { useVisit } from "./use-visit";

export const action = onServer(closeCommand);

export const clientAction = onDevice(closeCommand);

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
