import { useEffect, useState } from "react";
import { OWN_KEY } from "../../ui/bench/drop-keys";
import { Button } from "../../ui/button";
import { useStored } from "../../ui/use-stored";
import { words } from "../../words";

const isText = (value: unknown): value is string => typeof value === "string";

/** Teaches this device the key that a foot switch or a button ring types. */
export function DropKey() {
  const [key, setKey] = useStored<string>(OWN_KEY, "", isText);
  const [listening, listen] = useState(false);
  const said = words.settings;
  useEffect(() => {
    if (!listening) return;
    const hear = (event: KeyboardEvent) => {
      if (["Tab", "Escape", "Shift", "Control", "Alt", "Meta"].includes(event.key)) return listen(false);
      event.preventDefault();
      event.stopPropagation();
      setKey(event.key);
      listen(false);
    };
    window.addEventListener("keydown", hear, { capture: true });
    return () => window.removeEventListener("keydown", hear, { capture: true });
  });
  return (
    <section className="sheet grid justify-items-start gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.dropKey}</h2>
      <p className="text-soft">{said.dropKeyHint}</p>
      <div className="flex flex-wrap gap-2">
        <Button type="button" quiet aria-pressed={listening} onClick={() => listen(true)}>
          {listening ? said.dropKeyTeach : said.dropKeyStart}
        </Button>
        {key ? (
          <Button type="button" quiet onClick={() => setKey("")}>
            {said.dropKeyForget}
          </Button>
        ) : null}
      </div>
      {key ? <p role="status">{said.dropKeyIs({ key })}</p> : null}
    </section>
  );
}
