import { Search } from "lucide-react";
import { lazy, Suspense, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { words } from "../words";
import { askHelp } from "./keys-help";
import { type Place, readPlaces } from "./use-places";

const PaletteList = lazy(() => import("./palette-list"));

/** Everything that can be gone to, by typing part of its name. Ctrl K, or Command K. */
export function Palette() {
  // Open while it holds the names to choose from, on their way or here.
  const [places, setPlaces] = useState<Promise<Place[]> | null>(null);
  const navigate = useNavigate();
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== "k" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setPlaces((open) => (open ? null : readPlaces()));
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  const go = (to: string) => {
    setPlaces(null);
    void navigate(to);
  };
  const help = () => {
    setPlaces(null);
    // Once the list is gone, with whatever it does as it goes.
    setTimeout(askHelp);
  };
  return (
    <>
      <button
        type="button"
        className="grid h-12 w-12 cursor-pointer place-items-center"
        aria-label={words.palette.open}
        aria-keyshortcuts="Control+K"
        onClick={() => setPlaces(readPlaces())}
      >
        <Search size={21} aria-hidden="true" />
      </button>
      {places ? (
        <Suspense>
          <PaletteList places={places} go={go} help={help} close={() => setPlaces(null)} />
        </Suspense>
      ) : null}
    </>
  );
}
