import type { CautionCode, ProductId } from "#core";
import { words } from "../words";
import { Pictogram, type PictogramName } from "./pictogram";
import { useMet } from "./use-met";

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

/** Fewer than so many more are no reason to fold them. */
const LEAST_FOLDED = 2;

/**
 * What can hurt at a step: the danger, then the rule, the worst first. The first time that somebody meets a product all
 * of it stands open; after that the worst, and the rest behind its pictures.
 */
export function Cautions({ codes, of = null }: { codes: readonly CautionCode[]; of?: ProductId | null }) {
  const { isMet } = useMet(of);
  const [worst, ...rest] = codes;
  if (worst === undefined) return null;
  if (!isMet || rest.length < LEAST_FOLDED) return <List codes={codes} />;
  const pictures = [...new Set(rest.flatMap((code) => PICTURES[code] ?? []))];
  return (
    <div className="grid gap-1.5">
      <List codes={[worst]} />
      <details>
        <summary className="flex min-h-[44px] cursor-pointer flex-wrap items-center gap-2">
          <span className="link">{words.plan.moreCautions({ count: rest.length })}</span>
          {pictures.map((name) => (
            <Pictogram key={name} name={name} />
          ))}
        </summary>
        <List codes={rest} />
      </details>
    </div>
  );
}

const List = ({ codes }: { codes: readonly CautionCode[] }) => (
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
