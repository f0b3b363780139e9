import type { WhatIf, WhatIfAnswer } from "#core";
import type { FaultView } from "../fault";

export type WhatIfReply = { turn: number } & ({ answer: WhatIfAnswer } | { fault: FaultView });
/** What sliders move. */
export type WhatIfMove = Pick<WhatIf, "water" | "grams" | "replaced" | "aerated">;

/**
 * A worker that works out one what-if at a time, as a store that a component can read. While it is busy
 * only the newest question waits: a slider asks faster than a phone answers.
 */
export function openWhatIf(start: WhatIf) {
  const worker = new Worker(new URL("./what-if.worker.ts", import.meta.url), { type: "module" });
  worker.postMessage({ still: start });
  let turn = 0;
  let busy = false;
  let waiting: WhatIfMove | null = null;
  let reply: WhatIfReply | null = null;
  const told = new Set<() => void>();
  const send = (move: WhatIfMove) => {
    busy = true;
    worker.postMessage({ turn: ++turn, move });
  };
  worker.addEventListener("message", ({ data }: MessageEvent<WhatIfReply>) => {
    busy = false;
    reply = data;
    for (const tell of told) tell();
    if (!waiting) return;
    const move = waiting;
    waiting = null;
    send(move);
  });
  return {
    ask({ water, grams, replaced, aerated }: WhatIfMove) {
      const move = { water, grams, replaced, aerated };
      if (busy) waiting = move;
      else send(move);
    },
    subscribe(tell: () => void) {
      told.add(tell);
      return () => {
        told.delete(tell);
      };
    },
    reply: () => reply,
    close: () => worker.terminate(),
  };
}

export type WhatIfStore = ReturnType<typeof openWhatIf>;
