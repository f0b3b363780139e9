import { Command } from "cmdk";
import { Search } from "lucide-react";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { words } from "../words";

interface Props {
  basins: { id: string; name: string; site: string }[];
}

/** Everything that can be gone to, by typing part of its name. Ctrl K, or Command K. */
export function Palette({ basins }: Props) {
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
  const item =
    "flex min-h-[48px] cursor-pointer items-center gap-3 rounded-sm px-3 data-[selected=true]:bg-action data-[selected=true]:text-on-action";
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
      <Command.Dialog
        open={open}
        onOpenChange={setOpen}
        label={words.palette.title}
        overlayClassName="fixed inset-0 z-20 bg-ink/40"
        contentClassName="sheet fixed inset-x-4 top-20 z-30 mx-auto max-w-lg p-3"
      >
        <Command.Input placeholder={words.palette.type} className="w-full text-lg" />
        <Command.List className="mt-2 max-h-[55dvh] overflow-y-auto">
          <Command.Empty className="p-3 text-soft">{words.palette.nothing}</Command.Empty>
          <Command.Group heading={words.palette.pages} className="text-ink">
            {words.palette.list.map(([to, name]) => (
              <Command.Item key={to} className={item} onSelect={() => go(to)}>
                {name}
              </Command.Item>
            ))}
          </Command.Group>
          <Command.Group heading={words.basins.title}>
            {basins.map((basin) => (
              <Command.Item
                key={basin.id}
                value={`${basin.name} ${basin.site} ${basin.id}`}
                className={item}
                onSelect={() => go(`/basins/${basin.id}`)}
              >
                <span>{basin.name}</span> <span>{basin.site}</span>
              </Command.Item>
            ))}
          </Command.Group>
        </Command.List>
      </Command.Dialog>
    </>
  );
}
