import type { WhatIf, WhatIfAnswer } from "#core";
import type { FaultView } from "../context";

export type WhatIfReply = { turn: number } & ({ answer: WhatIfAnswer } | { fault: FaultView });

/**
 * A worker that works out one what-if at a time. While it is busy only the newest question waits: a
 * slider asks faster than a phone answers.
 */
export function openWhatIf(told: (reply: WhatIfReply) => void) {
  const worker = new Worker(new URL("./what-if.worker.ts", import.meta.url), { type: "module" });
  let turn = 0;
  let busy = false;
  let waiting: WhatIf | null = null;
  const send = (asked: WhatIf) => {
    busy = true;
    worker.postMessage({ turn: ++turn, asked });
  };
  worker.addEventListener("message", ({ data }: MessageEvent<WhatIfReply>) => {
    busy = false;
    told(data);
    if (waiting) {
      const asked = waiting;
      waiting = null;
      send(asked);
    }
  });
  return {
    ask(asked: WhatIf) {
      if (busy) waiting = asked;
      else send(asked);
    },
    close: () => worker.terminate(),
  };
}
