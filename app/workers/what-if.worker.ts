import { InputFault, type WhatIf, whatIf } from "#core";
import type { WhatIfReply } from "./what-if";

/** Answers with the number it was asked under, so that a late answer is known as such. */
self.addEventListener("message", ({ data }: MessageEvent<{ turn: number; asked: WhatIf }>) => {
  const answer = whatIf(data.asked);
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
});
