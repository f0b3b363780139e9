import { type FormEvent, useEffect, useState } from "react";
import { Button } from "../ui/button";
import { Mark } from "../ui/mark";
import { SignOut } from "../ui/sign-out";
import { words } from "../words";
import { CODE_LENGTH, isLocked, LOCK_AFTER_MS, lock, tryCode } from "./lock";

/** Stands in place of everything until the device's code was given. */
export function LockScreen() {
  const locked = useLock();
  const [code, setCode] = useState("");
  const [wait, setWait] = useState<number | null>(null);
  const [busy, setBusy] = useState(false);
  if (!locked.on) return null;
  const said = words.lock;
  const open = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const ended = await tryCode(code);
    setBusy(false);
    setCode("");
    setWait(ended === "right" ? null : ended);
    if (ended === "right") locked.open();
  };
  return (
    <main id="lock" className="mx-auto grid min-h-dvh max-w-sm content-center gap-4 p-6">
      <Mark className="h-12 w-12" />
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <form onSubmit={open} className="grid gap-3">
        <label className="grid gap-1">
          {said.code}
          <input
            // biome-ignore lint/a11y/noAutofocus: nothing else can be done here
            autoFocus
            type="password"
            inputMode="numeric"
            autoComplete="off"
            maxLength={CODE_LENGTH.most}
            value={code}
            onChange={(event) => setCode(event.target.value)}
            size={6}
            className="w-full min-w-0 text-center text-3xl tracking-[0.4em]"
          />
        </label>
        {wait === null ? null : (
          <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
            {wait === 0 ? said.wrong : said.wait({ seconds: wait })}
          </p>
        )}
        <Button busy={busy} className="min-h-[64px]">
          {said.open}
        </Button>
      </form>
      <p className="text-soft">{said.forgotten}</p>
      <SignOut buttonClass="link min-h-[44px] cursor-pointer" />
    </main>
  );
}

function useLock() {
  const [on, set] = useState(false);
  useEffect(() => {
    const show = (locked: boolean) => {
      if (locked) document.documentElement.dataset.locked = "";
      else delete document.documentElement.dataset.locked;
      set(locked);
    };
    const look = () => {
      try {
        show(isLocked());
      } catch {
        show(false);
      }
    };
    look();
    let hidden = 0;
    const seen = () => {
      if (document.visibilityState === "hidden") hidden = Date.now();
      else if (hidden > 0 && Date.now() - hidden > LOCK_AFTER_MS) {
        lock();
        look();
      }
    };
    document.addEventListener("visibilitychange", seen);
    return () => document.removeEventListener("visibilitychange", seen);
  }, []);
  return {
    on,
    open: () => {
      delete document.documentElement.dataset.locked;
      set(false);
    },
  };
}
