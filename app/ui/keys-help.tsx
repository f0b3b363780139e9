import { Dialog } from "radix-ui";
import { lazy, Suspense, useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { words } from "../words";
import { useKeys } from "./use-keys";

/** Comes when somebody asks. */
const ScreenHelp = lazy(() => import("./screen-help"));

const ASKED = "pelagon-help";

/** Opens the help of the screen at hand from elsewhere on the page: a phone has no key for it. */
export const askHelp = (): boolean => window.dispatchEvent(new Event(ASKED));

/**
 * What the screen is for, and the list of keys, under `?`.
 * @param always with a button on a phone, too, where there is room for one
 */
export function KeysHelp({ always = false }: { always?: boolean }) {
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  useKeys({ "?": () => setOpen(true) });
  useEffect(() => {
    const show = () => setOpen(true);
    window.addEventListener(ASKED, show);
    return () => window.removeEventListener(ASKED, show);
  }, []);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen} modal={false}>
      <Dialog.Trigger
        className={
          always
            ? "no-print min-h-[44px] min-w-[44px] cursor-pointer rounded-sm border border-soft px-2 text-sm"
            : "key no-print cursor-pointer px-2 py-1"
        }
        aria-label={`${words.keys.open} ?`}
        aria-keyshortcuts="?"
      >
        {always ? "?" : `${words.keys.open} ?`}
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Content
          className="sheet fixed inset-x-4 top-24 z-20 mx-auto max-h-[calc(100dvh-7rem)] max-w-lg overflow-y-auto p-5 shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-3 text-xl font-semibold">{words.keys.help}</Dialog.Title>
          <Suspense>
            <ScreenHelp path={pathname} />
          </Suspense>
          <h3 className="mb-2 font-semibold">{words.keys.title}</h3>
          <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-2">
            {words.keys.list.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="font-semibold">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <p className="mt-3">
            <Link to="/guide" className="link" onClick={() => setOpen(false)}>
              {words.guide.title}
            </Link>
          </p>
          <Dialog.Close className="quiet-action mt-4">{words.keys.close}</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
