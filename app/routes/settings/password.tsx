import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import { LONGEST_PASSWORD } from "#server/auth/password-length";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { words } from "../../words";
import { NewPasswordField } from "../team/new-password-field";

/** Changes one's own password; everywhere else the member is signed out. */
export function Password() {
  const fetcher = useFetcher<SaveAnswer & { saved?: string }>();
  const form = useRef<HTMLFormElement>(null);
  const changed = fetcher.data?.saved;
  useEffect(() => {
    if (changed) form.current?.reset();
  }, [changed]);
  const said = words.team;
  return (
    <details className="w-full">
      <summary className="cursor-pointer py-3">{said.changePassword}</summary>
      <fetcher.Form ref={form} method="post" className="grid gap-3 pt-2">
        <input type="hidden" name="command" value="change-password" />
        <Field label={said.currentPassword}>
          <input
            name="current"
            type="password"
            required
            maxLength={LONGEST_PASSWORD}
            autoComplete="current-password"
          />
        </Field>
        <NewPasswordField name="next" label={said.nextPassword} />
        <Refused answer={fetcher.data} />
        {changed ? <p role="status">{said.passwordChanged}</p> : null}
        <Button quiet busy={fetcher.state !== "idle"} className="justify-self-start">
          {said.changePassword}
        </Button>
      </fetcher.Form>
    </details>
  );
}
