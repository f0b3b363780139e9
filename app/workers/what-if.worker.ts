import { InputFault, type WhatIf, whatIf } from "#core";
import type { WhatIfMove, WhatIfReply } from "./what-if";

/** What does not move: sent once. */
let still: WhatIf | null = null;

/** Answers with the number it was asked under, so that a late answer is known as such. */
self.addEventListener(
  "message",
  ({ data }: MessageEvent<{ still: WhatIf } | { turn: number; move: WhatIfMove }>) => {
    if ("still" in data) {
      still = data.still;
      return;
    }
    if (!still) return;
    const answer = whatIf({ ...still, ...data.move });
    const reply: WhatIfReply =
      answer instanceof InputFault
        ? {
            turn: data.turn,
            fault: {
              code: answer.code,
              field: answer.field,
              value: String(answer.value),
              limit: answer.limit ?? null,
            },
          }
        : { turn: data.turn, answer };
    self.postMessage(reply);
  },
);
