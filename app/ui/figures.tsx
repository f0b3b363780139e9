import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import {
  everydayAmount,
  hardnessIn,
  type Measurement,
  type ProductForm,
  type Quantity,
  temperatureIn,
  UNIT_SYSTEM_NAMES,
  UNIT_SYSTEMS,
  type UnitSystem,
  volumeIn,
} from "#core";
import { figuresText, numberText, words } from "../words";
import { amountText, BOUND_SIGN, unitText, volumeText } from "./format";
import { useUnits } from "./units";

/** Figures that tell themselves in other units when they are tapped. */

interface FigureProps {
  /** The same amount in the units that whoever looks does not read. */
  others: readonly string[];
  children: ReactNode;
}

function Figure({ others, children }: FigureProps) {
  if (others.length === 0) return children;
  return (
    <Popover.Root>
      <Popover.Trigger className="figure">{children}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="sheet z-30 p-3 shadow-lg"
          aria-label={words.inOtherUnits}
          collisionPadding={8}
        >
          <ul className="grid gap-1 text-ink">
            {others.map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** Every other text that the unit systems make of something, each once. */
const inOthers = (own: UnitSystem, text: (units: UnitSystem) => string): string[] => [
  ...new Set(UNIT_SYSTEM_NAMES.map(text).filter((one) => one !== text(own))),
];

/** @param children how it is told, where not as the plain amount */
export function AmountFigure({
  grams,
  form,
  children,
}: {
  grams: number;
  form: ProductForm;
  children?: ReactNode;
}) {
  const units = useUnits();
  const text = (one: UnitSystem) => amountText(everydayAmount(grams, form, one));
  return <Figure others={inOthers(units, text)}>{children ?? text(units)}</Figure>;
}

export function VolumeFigure({ litres }: { litres: number }) {
  const units = useUnits();
  const text = (one: UnitSystem) =>
    // A US gallon stands beside an imperial one here, and says which it is.
    one === "us"
      ? `${numberText(Number(volumeIn(litres, "us-gal").toPrecision(4)), 0)} ${words.volume.units["us-gal"]}`
      : volumeText(litres, one);
  return (
    <Figure others={UNIT_SYSTEM_NAMES.filter((one) => one !== units).map(text)}>
      {volumeText(litres, units)}
    </Figure>
  );
}

const HARDNESSES: readonly Quantity[] = ["calciumHardness", "totalHardness", "totalAlkalinity"];

/** @param children the reading as it is shown */
export function ReadingFigure({
  quantity,
  value,
  bound = "within",
  children,
}: {
  quantity: Quantity;
  value: number;
  bound?: Measurement["bound"];
  children: ReactNode;
}) {
  const units = useUnits();
  const others = othersOf(quantity, value, units).map((text) => `${BOUND_SIGN[bound]}${text}`);
  return <Figure others={others}>{children}</Figure>;
}

/** What a reading is in units that other kits and other countries count in. */
function othersOf(quantity: Quantity, value: number, units: UnitSystem): string[] {
  if (quantity === "temperature") {
    const other = UNIT_SYSTEMS[units].heat === "F" ? "metric" : "us";
    return [
      `${numberText(temperatureIn(value, UNIT_SYSTEMS[other].heat), 1)} ${unitText("temperature", other)}`,
    ];
  }
  if (!HARDNESSES.includes(quantity)) return [];
  const moles = hardnessIn(value, "mmol");
  return [
    `${figuresText(hardnessIn(value, "german"))} °dH`,
    `${figuresText(hardnessIn(value, "french"))} °fH`,
    // Of acid alkalinity takes two for each of calcium carbonate: told so that nobody takes one for the other.
    quantity === "totalAlkalinity" ? `${figuresText(2 * moles)} meq/L` : `${figuresText(moles)} mmol/L`,
  ];
}
