import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { use } from "react";
import { ROLES } from "#core";
import { words } from "../words";
import { BEFORE_ID, match } from "./palette-match";
import { useFirm } from "./use-firm";
import type { Place } from "./use-places";

interface Props {
  /** Waited for: what is typed is looked up among all of them. */
  places: Promise<Place[]>;
  go: (to: string) => void;
  help: () => void;
  close: () => void;
}

/** What can be gone to, with the least that somebody must be to open it. */
const PAGES = [
  ["/", "technician"],
  ["/week", "reader"],
  ["/week/regular", "technician"],
  ["/week/quote", "technician"],
  ["/basins", "reader"],
  ["/book", "technician"],
  ["/bench", "reader"],
  ["/practice", "reader"],
  ["/guide", "reader"],
  ["/shelf", "technician"],
  ["/shelf/products", "technician"],
  ["/shelf/trucks", "technician"],
  ["/shelf/kits", "technician"],
  ["/settings", "reader"],
  ["/settings/week", "technician"],
  ["/settings/ranges", "technician"],
  ["/settings/calendar", "technician"],
  ["/settings/practice", "technician"],
  ["/book/month", "owner"],
  ["/settings/team", "owner"],
  ["/settings/api", "owner"],
  ["/settings/webhooks", "owner"],
  ["/settings/audit", "owner"],
  ["/settings/health", "owner"],
] as const;

const item =
  "flex min-h-[48px] cursor-pointer items-center gap-3 rounded-sm px-3 data-[selected=true]:bg-action data-[selected=true]:text-on-action";

/**
 * Pages and basins, to be found by typing part of a name. Loaded when it is first opened. Not modal: a
 * modal one writes a style of its own into the page, which the policy forbids.
 */
export default function PaletteList({ places, go, help, close }: Props) {
  const basins = use(places);
  const { role } = useFirm();
  const pages = PAGES.filter(([, least]) => ROLES.indexOf(role) <= ROLES.indexOf(least));
  return (
    <Dialog.Root open modal={false} onOpenChange={(open) => (open ? undefined : close())}>
      <Dialog.Portal>
        <Dialog.Content
          className="sheet fixed inset-x-4 top-20 z-30 mx-auto max-w-lg border-ink p-3 shadow-lg"
          aria-describedby={undefined}
        >
          <Dialog.Title className="sr-only">{words.palette.title}</Dialog.Title>
          <Command label={words.palette.title} filter={match}>
            <Command.Input placeholder={words.palette.type} className="w-full text-lg" />
            <Command.List className="mt-2 max-h-[55dvh] overflow-y-auto">
              <Command.Empty className="p-3 text-soft">{words.palette.nothing}</Command.Empty>
              <Command.Group heading={words.palette.pages}>
                <Command.Item className={item} onSelect={help}>
                  {words.palette.help}
                </Command.Item>
                {pages.map(([to]) => (
                  <Command.Item key={to} className={item} onSelect={() => go(to)}>
                    {words.palette.places[to]}
                  </Command.Item>
                ))}
              </Command.Group>
              <Command.Group heading={words.basins.title}>
                {basins.map((basin) => (
                  <Command.Item
                    key={basin.id}
                    value={`${basin.name} ${basin.site}${BEFORE_ID}${basin.id}`}
                    className={item}
                    onSelect={() => go(`/basins/${basin.id}`)}
                  >
                    <span>{basin.name}</span> <span>{basin.site}</span>
                  </Command.Item>
                ))}
              </Command.Group>
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
