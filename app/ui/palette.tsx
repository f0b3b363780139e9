import { Search } from "lucide-react";
import { lazy, Suspense, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { words } from "../words";

const PaletteList = lazy(() => import("./palette-list"));

/** Everything that can be gone to, by typing part of its name. Ctrl K, or Command K. */
export function Palette() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== "k" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setOpen((is) => !is);
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  const go = (to: string) => {
    setOpen(false);
    void navigate(to);
  };
  return (
    <>
      <button
        type="button"
        className="grid h-12 w-12 cursor-pointer place-items-center"
        aria-label={words.palette.open}
        aria-keyshortcuts="Control+K"
        onClick={() => setOpen(true)}
      >
        <Search size={21} aria-hidden="true" />
      </button>
      {open ? (
        <Suspense>
          <PaletteList go={go} close={() => setOpen(false)} />
        </Suspense>
      ) : null}
    </>
  );
}
