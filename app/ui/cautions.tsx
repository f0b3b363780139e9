import type { CautionCode } from "#core";
import { words } from "../words";
import { Pictogram, type PictogramName } from "./pictogram";

/** Pictures of the cautions that matter without language. */
const PICTURES: Partial<Record<CautionCode, PictogramName[]>> = {
  "never-mix": ["no-mixing"],
  "acid-and-chlorine": ["no-mixing"],
  "chlorines-apart": ["no-mixing"],
  "goggles-gloves": ["goggles", "gloves"],
  "nobody-in": ["keep-out"],
  "closed-until": ["keep-out"],
  "cover-watched": ["cover-on"],
};

/** What can hurt at a step: the danger, then the rule, the worst first. */
export function Cautions({ codes }: { codes: readonly CautionCode[] }) {
  if (codes.length === 0) return null;
  return (
    <ul className="grid gap-1.5">
      {codes.map((code) => (
        <li key={code} className="grid grid-cols-[2.25rem_1fr] items-center gap-x-2">
          <span className="grid justify-items-center gap-1">
            {(PICTURES[code] ?? []).map((name) => (
              <Pictogram key={name} name={name} />
            ))}
          </span>
          <span>{words.plan.cautions[code]}</span>
        </li>
      ))}
    </ul>
  );
}
