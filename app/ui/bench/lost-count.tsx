import { Dialog } from "radix-ui";
import { memo } from "react";
import type { TitrationMethod } from "#core";
import { words } from "../../words";
import { Button } from "../button";
import { plain } from "../format";

interface Props {
  method: TitrationMethod;
  sample: number;
  /** Whether anything was counted yet. */
  begun: boolean;
  last: number | null;
  /** Starts at zero in a fresh sample of this size. */
  afresh: (millilitres: number) => void;
  /** Starts with titrant ahead of the indicator; null where metals do no harm. */
  fading: (() => void) | null;
}

/** Sound ways out when somebody talked, or the colour does what it should not. */
export const LostCount = memo(function LostCount({ method, sample, begun, last, afresh, fading }: Props) {
  const fewer = [...method.samples]
    .filter((size) => size.millilitres < sample)
    .sort((a, b) => b.millilitres - a.millilitres)[0];
  const expected = fewer && last !== null ? Math.round(last / fewer.factor) : null;
  return (
    <div className="flex flex-wrap gap-2">
      <Dialog.Root modal={false}>
        <Dialog.Trigger className="quiet-action" disabled={!begun}>
          {words.bench.lost}
        </Dialog.Trigger>
        <Dialog.Portal>
          <Dialog.Content className="sheet fixed inset-x-4 top-24 z-30 mx-auto grid max-w-md gap-3 border-ink p-5 shadow-lg">
            <Dialog.Title className="text-xl font-semibold">{words.bench.lostTitle}</Dialog.Title>
            <Dialog.Description>{words.bench.lostText}</Dialog.Description>
            <Dialog.Close asChild>
              <Button type="button" onClick={() => afresh(sample)}>
                {words.bench.lostAgain({ millilitres: plain(sample, 1) })}
              </Button>
            </Dialog.Close>
            {fewer ? (
              <Dialog.Close asChild>
                <Button type="button" quiet onClick={() => afresh(fewer.millilitres)}>
                  {words.bench.lostSmaller({ millilitres: plain(fewer.millilitres, 1), expected })}
                </Button>
              </Dialog.Close>
            ) : null}
            <Dialog.Close className="quiet-action">{words.bench.lostStay}</Dialog.Close>
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
      {fading ? (
        <Button type="button" quiet onClick={fading}>
          {words.bench.fading}
        </Button>
      ) : null}
    </div>
  );
});
