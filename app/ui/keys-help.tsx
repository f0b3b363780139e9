import { Dialog } from "radix-ui";
import { useState } from "react";
import { words } from "../words";
import { useKeys } from "./use-keys";

/** The list of keys, under `?`. */
export function KeysHelp() {
  const [open, setOpen] = useState(false);
  useKeys({ "?": () => setOpen(true) });
  return (
    <Dialog.Root open={open} onOpenChange={setOpen} modal={false}>
      <Dialog.Trigger className="key no-print cursor-pointer px-2 py-1" aria-keyshortcuts="?">
        {words.keys.open} ?
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Content
          className="sheet fixed inset-x-4 top-24 z-20 mx-auto max-w-md p-5 shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-3 text-xl font-semibold">{words.keys.title}</Dialog.Title>
          <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-2">
            {words.keys.list.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="font-semibold">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close className="quiet-action mt-4">{words.keys.close}</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
