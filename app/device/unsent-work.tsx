import { useCallback, useEffect, useState } from "react";
import { Button } from "../ui/button";
import { ago } from "../ui/format";
import { fill, words } from "../words";
import { wipe } from "./store";
import { type Unsent, unsentHere, workFileOf } from "./unsent";

interface Props {
  /** Whose work; everybody's in this browser where it is left out. */
  only?: string;
  /** Why it is not sent by itself. */
  why: "signed-out" | "reader";
}

/** Work on this device that nobody here may send: whose it is, how much, and how it reaches the book all the same. */
export default function UnsentWork({ only, why }: Props) {
  const [found, setFound] = useState<Unsent[]>([]);
  const look = useCallback(() => void unsentHere(only).then(setFound, () => setFound([])), [only]);
  useEffect(look, [look]);
  return found.map((one) => <OfOne key={one.memberId} one={one} why={why} gone={look} />);
}

function OfOne({ one, why, gone }: { one: Unsent; why: Props["why"]; gone: () => void }) {
  const [saved, setSaved] = useState(false);
  const [sure, setSure] = useState(false);
  const said = words.store.unsent;
  const save = async () => {
    const file = await workFileOf(one.memberId);
    if (!file) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([JSON.stringify(file)], { type: "application/json" }));
    link.download = `${one.name || "work"}.${file.savedAt.slice(0, 10)}.work.json`.replace(/\s+/g, "-");
    link.click();
    // The browser reads it after this.
    setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
    setSaved(true);
  };
  const discard = async () => {
    await wipe(one.memberId);
    gone();
  };
  return (
    <section className="no-print grid gap-2 border-l-4 border-below bg-below-wash p-3 text-below">
      <p className="font-semibold">
        {said.title({ count: one.entries, name: one.name || null, age: ago(one.since, new Date()) })}
      </p>
      <p>{fill(said[why], { count: one.entries, name: one.name || null })}</p>
      {saved ? <p role="status">{said.saved}</p> : null}
      <p className="flex flex-wrap gap-2">
        <Button type="button" quiet onClick={() => void save()}>
          {said.save}
        </Button>
        {saved ? (
          <Button type="button" quiet onClick={() => (sure ? void discard() : setSure(true))}>
            {sure ? said.discardSure({ count: one.entries }) : said.discard}
          </Button>
        ) : null}
      </p>
    </section>
  );
}
