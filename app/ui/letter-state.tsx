import type { MailTold } from "#server/db/mail";
import { words } from "../words";
import { Button } from "./button";
import { dateTimeText } from "./format";

/** How a letter to a customer went; what would have gone, where nothing goes; and once more, where it went wrong. */
export function LetterState({
  letter: { email, state, doneAt, queuedAt, why, subject, body },
  timeZone,
  again,
}: {
  letter: MailTold;
  timeZone: string;
  again: () => void;
}) {
  const said = words.mail;
  const text = state === "failed" ? said.states.failed({ why }) : said.states[state];
  return (
    <div className="grid justify-items-start gap-1">
      <p className="text-soft">{said.to({ email, day: dateTimeText(doneAt ?? queuedAt, timeZone) })}</p>
      <p className={state === "failed" || state === "unknown" ? "font-medium text-above" : ""}>{text}</p>
      {body ? (
        <details className="w-full">
          <summary className="min-h-[44px] cursor-pointer content-center">{said.read}</summary>
          <p className="font-semibold">{subject}</p>
          <p className="whitespace-pre-wrap break-words">{body}</p>
        </details>
      ) : null}
      {state === "failed" || state === "unknown" ? (
        <Button type="button" quiet onClick={again}>
          {said.again}
        </Button>
      ) : null}
    </div>
  );
}
