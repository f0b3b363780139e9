import { OctagonX, TriangleAlert } from "lucide-react";
import { type Basin, type Bathing, mixesLike, testsThatOpen } from "#core";
import { bathingReason, listText, words } from "../words";
import { Pictogram } from "./pictogram";
import { useWriters } from "./use-writers";

/** Why nobody may bathe, what to do about it and what opens again; nothing where the water may be used. */
export function BathingBanner({
  bathing,
  basin,
}: {
  bathing: Bathing;
  basin: Pick<Basin, "kind" | "sanitiser">;
}) {
  const write = useWriters();
  const said = words.safety;
  const { state, because } = bathing;
  const isShut = state === "closed" || state === "untested";
  const dos = because.flatMap((reason) => (reason.code === "seen" ? [said.seenDo[reason.trouble]] : []));
  return (
    <>
      {isShut ? (
        <div role="status" className="flex gap-3 border-l-4 border-above bg-above-wash p-3 text-above">
          <Pictogram name="keep-out" size={44} />
          <div className="grid gap-1">
            <p className="flex items-center gap-2 text-lg font-bold">
              <OctagonX size={20} aria-hidden="true" /> {state === "closed" ? said.closed : said.untested}
            </p>
            <ul>
              {because.map((reason) => (
                <li key={JSON.stringify(reason)}>{bathingReason(reason, write)}</li>
              ))}
            </ul>
            {[...new Set(dos)].map((text) => (
              <p key={text} className="font-semibold">
                {text}
              </p>
            ))}
            {mixesLike(basin.kind) === "spa" ? <p>{said.jetsOff}</p> : null}
            <p>{said.opens({ tests: listText(testsThatOpen(bathing, basin.sanitiser).map(write.name)) })}</p>
          </div>
        </div>
      ) : null}
      {bathing.urgent.map((trouble) => (
        <div key={trouble} className="flex gap-3 border-l-4 border-above bg-above-wash p-3 text-above">
          <TriangleAlert size={24} aria-hidden="true" className="shrink-0" />
          <div>
            <p className="font-semibold">{said.urgent[trouble].says}</p>
            <p>{said.urgent[trouble].why}</p>
          </div>
        </div>
      ))}
    </>
  );
}
