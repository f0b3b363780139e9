import { useFetcher } from "react-router";
import { words } from "../words";
import { Refused, type SaveAnswer } from "./refused";

/** Signs out; while something on this device was not sent yet, only by saying so twice. */
export function SignOut({ className = "", buttonClass }: { className?: string; buttonClass: string }) {
  const fetcher = useFetcher<(SaveAnswer & { waiting?: number }) | undefined>();
  const waiting = fetcher.data?.waiting ?? 0;
  return (
    <fetcher.Form method="post" action="/sign-out" className={className}>
      {waiting > 0 ? (
        <p role="alert" className="max-w-prose text-below">
          {words.store.signOutWaits(waiting)}
          <input type="hidden" name="anyway" value="yes" />
        </p>
      ) : null}
      <button type="submit" className={buttonClass}>
        {waiting > 0 ? words.store.signOutAnyway(waiting) : words.nav.signOut}
      </button>
      <Refused answer={fetcher.data} />
    </fetcher.Form>
  );
}
