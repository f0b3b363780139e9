// Simulated technicians who save all the time, each known by what was acknowledged to it.
import { randomUUID } from "node:crypto";
import { setTimeout as delay } from "node:timers/promises";
import { parse } from "devalue";

/** Between one save and the next of a technician. Milliseconds */
const PACE_MS = 100;
/** A save that got no answer is sent again under its own key after so long. Milliseconds */
const AGAIN_MS = 200;

/**
 * A technician who saves until told to stop: by turns an event of a basin, and a batch of a device with a visit
 * and what was seen there. What gets no answer is sent again as it is.
 */
export function technician(ask, basinId, mark) {
  const told = { acked: [], statuses: {}, waits: [] };
  let going = true;
  let sequence = 0;
  const count = (status) => {
    told.statuses[status] = (told.statuses[status] ?? 0) + 1;
  };
  const kept = async (path, body, isKept) => {
    for (;;) {
      try {
        const answer = await ask(path, body);
        count(answer.status);
        const text = await answer.text();
        if (answer.status === 200 && isKept(text)) return true;
        if (answer.status !== 503 && answer.status < 500) return false;
      } catch {
        count("none");
      }
      if (!going) return false;
      await delay(AGAIN_MS);
    }
  };
  const event = async () => {
    const id = randomUUID();
    const given = { command: "add-event", id, basinId, day: "2031-03-05", name: `${mark} ${id}` };
    if (await kept("/?index&_routes=routes%2Fround%2Froute", given, () => true))
      told.acked.push({ kind: "event", id });
  };
  const seen = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
  const batch = async () => {
    const [visitId, id] = [randomUUID(), randomUUID()];
    const made = () => ({ device: mark, sequence: sequence++, at: new Date(), seen });
    const commands = [
      { id: visitId, name: "start", visitId, given: { basinId }, made: made() },
      {
        id,
        name: "look",
        visitId,
        given: { see: ["cloudy"], hear: [], smell: [], feel: [], note: `${mark} ${id}` },
        made: made(),
      },
    ];
    const isKept = (text) => {
      const { results } = parse(text);
      return results.length === 2 && results.every((one) => !("fault" in one));
    };
    if (await kept("/sync", { sentAt: new Date(), commands }, isKept)) told.acked.push({ kind: "look", id });
  };
  const over = (async () => {
    for (let turn = 0; going; turn++) {
      const begun = Date.now();
      await (turn % 2 ? batch() : event());
      told.waits.push({ begun, ended: Date.now() });
      await delay(PACE_MS);
    }
  })();
  return {
    told,
    async stop() {
      going = false;
      await over;
    },
  };
}
