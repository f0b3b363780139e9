import { v7 as uuid } from "uuid";

/**
 * This screen's own mark: it stays through reloads and ends with the tab. A duplicated tab begins
 * with a copy of the mark; it finds out by asking, and takes a new one.
 */
const KEY = "pelagon.screen";
const CHANNEL = "pelagon.screens";

let mark = "";
const here = Math.random();

export function screenMark(): string {
  if (mark) return mark;
  try {
    mark = sessionStorage.getItem(KEY) ?? "";
  } catch {
    // Storage may be forbidden; the mark then lasts as long as the page.
  }
  if (!mark) keep(uuid());
  listenForTwins();
  return mark;
}

function keep(next: string): void {
  mark = next;
  try {
    sessionStorage.setItem(KEY, next);
  } catch {
    // as above
  }
}

function listenForTwins(): void {
  if (typeof BroadcastChannel === "undefined") return;
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = ({ data }) => {
    if (data?.mark !== mark || data.here === here) return;
    if (data.kind === "who") channel.postMessage({ kind: "twin", mark, here, asked: data.here });
    // The one who asked is the copy.
    else if (data.asked === here) keep(uuid());
  };
  channel.postMessage({ kind: "who", mark, here });
}
