import { useEffect, useState } from "react";
import { Button } from "../ui/button";
import { words } from "../words";
import { marksPlace, setMarksPlace, whereHere } from "./place-mark";

/** Turns the place mark of this device on, which asks the browser for it, or off. */
export default function PlaceChoice() {
  const [on, setOn] = useState(false);
  const [isRefused, setRefused] = useState(false);
  const [busy, setBusy] = useState(false);
  useEffect(() => setOn(marksPlace()), []);
  const said = words.placeMark;
  const change = async () => {
    if (on) {
      setMarksPlace(false);
      return setOn(false);
    }
    setBusy(true);
    const spot = await whereHere();
    setBusy(false);
    setRefused(spot === null);
    if (spot === null) return;
    setMarksPlace(true);
    setOn(true);
  };
  return (
    <details className="w-full">
      <summary className="cursor-pointer py-3">{said.title}</summary>
      <div className="grid justify-items-start gap-3 pt-2">
        <p className="text-soft">{said.hint}</p>
        {on ? <p role="status">{said.isOn}</p> : null}
        {isRefused ? <p role="alert">{said.refused}</p> : null}
        <Button type="button" quiet busy={busy} onClick={change}>
          {on ? said.off : said.on}
        </Button>
      </div>
    </details>
  );
}
