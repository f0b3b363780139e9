import { useFetcher } from "react-router";
import { words } from "../words";
import { Refused, type SaveAnswer } from "./refused";

/** Signs out; while something on this device was not sent yet, only by saying so twice. */
export function SignOut({ className = "", buttonClass }: { className?: string; buttonClass: string }) {
  const fetcher = useFetcher<(SaveAnswer & { waiting?: number; loose?: number }) | undefined>();
  const { waiting = 0, loose = 0 } = fetcher.data ?? {};
  const lost = waiting + loose;
  return (
    <fetcher.Form method="post" action="/sign-out" className={className}>
      {lost > 0 ? (
        <p role="alert" className="max-w-prose text-below">
          {waiting > 0 ? words.store.signOutWaits({ count: waiting }) : ""}{" "}
          {loose > 0 ? words.store.signOutLoose({ count: loose }) : ""}
          <input type="hidden" name="anyway" value="yes" />
        </p>
      ) : null}
      <button type="submit" className={buttonClass}>
        {lost > 0 ? words.store.signOutAnyway({ count: lost }) : words.nav.signOut}
      </button>
      <Refused answer={fetcher.data} />
    </fetcher.Form>
  );
}
