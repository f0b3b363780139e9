import { Dialog } from "radix-ui";
import { lazy, Suspense, useState } from "react";
import { Link, useLocation } from "react-router";
import { words } from "../words";
import { useKeys } from "./use-keys";

/** Comes when somebody asks. */
const ScreenHelp = lazy(() => import("./screen-help"));

/** What the screen is for, and the list of keys, under `?`. */
export function KeysHelp() {
  const [open, setOpen] = useState(false);
  const { pathname } = useLocation();
  useKeys({ "?": () => setOpen(true) });
  return (
    <Dialog.Root open={open} onOpenChange={setOpen} modal={false}>
      <Dialog.Trigger className="key no-print cursor-pointer px-2 py-1" aria-keyshortcuts="?">
        {words.keys.open} ?
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
