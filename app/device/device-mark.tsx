import { liveQuery } from "dexie";
import { CloudOff, CloudUpload, HardDriveDownload, TriangleAlert } from "lucide-react";
import { Popover } from "radix-ui";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { ago } from "../ui/format";
import { useUnits } from "../ui/units";
import { faultSentence, words } from "../words";
import { type BundleState, bundleState, takeBundle } from "./bundle";
import type { RefusedCommand } from "./database";
import { memberHere } from "./member";
import { deviceStore, type NoStore, whyNoStore, wipe } from "./store";
import { type DrainEnd, drain, onSynced } from "./sync";

/** With something to send, the server is asked this often. */
const RETRY_MS = 3000;
/** And without, the day's bundle is looked after this often. */
const BUNDLE_MS = 10 * 60_000;

interface DeviceState {
  waiting: number;
  refused: RefusedCommand[];
  bundle: BundleState | null;
}

/**
 * How old the bundle is, what waits to be sent, what was refused and why; and what mends it. A phone has no
 * room for it while all is well: there it stands in the settings.
 */
export default function DeviceMark({ always = false }: { always?: boolean }) {
  const state = useDeviceState();
  const { end, none } = useSending(state?.waiting ?? 0);
  const [open, setOpen] = useState(false);
  const said = words.store;
  if (none) return <NothingKept why={none} />;
  if (!state) return null;
  const { waiting, refused, bundle } = state;
  const isQuiet = waiting === 0 && refused.length === 0;
  const isAway = end === "unreached" || (typeof navigator !== "undefined" && !navigator.onLine);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className={`no-print ${isQuiet && !isAway && !always ? "hidden wide:flex" : "flex"} min-h-12 min-w-11 cursor-pointer items-center justify-center gap-0.5 text-sm wide:gap-1 wide:px-2 whitespace-nowrap ${refused.length > 0 ? "font-semibold text-above" : waiting > 0 ? "font-semibold text-below" : "text-soft"}`}
        aria-label={markName(state)}
      >
        {refused.length > 0 ? (
          <>
            <TriangleAlert size={18} aria-hidden="true" />
            <Count short={refused.length} long={said.refused({ count: refused.length })} />
          </>
        ) : waiting > 0 ? (
          <>
            {isAway ? (
              <CloudOff size={18} aria-hidden="true" />
            ) : (
              <CloudUpload size={18} aria-hidden="true" />
            )}
            <Count short={waiting} long={said.kept({ count: waiting })} />
          </>
        ) : isAway ? (
          <CloudOff size={18} aria-label={said.away} />
        ) : (
          <>
            <HardDriveDownload size={18} aria-label={said.open} /> {always ? said.open : null}
          </>
        )}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="sheet z-30 mx-2 grid max-h-[80vh] w-[min(26rem,94vw)] gap-3 overflow-y-auto p-4 shadow-lg"
          align="end"
        >
          <h2 className="text-lg font-semibold">{said.title}</h2>
          <p>{bundle ? said.bundle({ age: ago(bundle.at, new Date()) }) : said.noBundle}</p>
          {isAway ? <p>{said.awayText}</p> : null}
          {end === "signed-out" ? (
            <p className="font-medium text-below">
              {said.signedOut}{" "}
              <a className="link" href="/sign-in">
                {words.signIn.go}
              </a>
            </p>
          ) : null}
          <p>{waiting > 0 ? said.waiting({ count: waiting }) : said.nothingWaits}</p>
          {refused.map((one) => (
            <Refused key={one.id} one={one} />
          ))}
          <p className="flex flex-wrap gap-3">
            <button
              type="button"
              className="quiet-action"
              onClick={() => {
                void drain();
                void takeBundle(true);
              }}
            >
              {said.now}
            </button>
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** One that was refused: what it was, why, and what may be done with it. */
function Refused({ one }: { one: RefusedCommand }) {
  const units = useUnits();
  const [sure, setSure] = useState(false);
  const said = words.store;
  const again = async () => {
    const store = await deviceStore();
    if (!store) return;
    const { fault: _, refusedAt: __, sequence: ___, ...command } = one;
    await store.transaction("rw", [store.waiting, store.refused], async () => {
      await store.waiting.add(command);
      await store.refused.delete(one.id);
    });
    void drain();
  };
  const drop = async () => (await deviceStore())?.refused.delete(one.id);
  return (
    <section className="grid gap-2 border-l-4 border-above bg-above-wash p-3 text-above">
      <p className="font-semibold">
        {said.commands[one.name]}, {ago(one.made.at, new Date())}
      </p>
      <p>{faultSentence(one.fault, units)}</p>
      <details>
        <summary className="cursor-pointer">{said.what}</summary>
        <pre className="overflow-x-auto text-sm whitespace-pre-wrap">
          {JSON.stringify(one.given, null, 1)}
        </pre>
      </details>
      <p className="flex flex-wrap gap-2">
        <button type="button" className="quiet-action" onClick={() => void again()}>
          {said.again}
        </button>
        <Link className="quiet-action" to={`/visits/${one.visitId}`}>
          {said.toVisit}
        </Link>
        <button type="button" className="quiet-action" onClick={() => (sure ? void drop() : setSure(true))}>
          {sure ? said.dropSure : said.drop}
        </button>
      </p>
    </section>
  );
}

function NothingKept({ why }: { why: Exclude<NoStore, null> }) {
  const [open, setOpen] = useState(false);
  const said = words.store;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className="no-print flex min-h-12 cursor-pointer items-center px-2 text-sm text-soft">
        <CloudOff size={18} aria-label={said.nothingKept} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="sheet z-30 mx-2 max-w-sm p-4 shadow-lg" align="end">
          {said.noStore[why]}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function useDeviceState(): DeviceState | null {
  const [state, setState] = useState<DeviceState | null>(null);
  useEffect(() => {
    let stop = () => {};
    void deviceStore().then((store) => {
      if (!store) return;
      const seen = liveQuery(async () => ({
        waiting: await store.waiting.count(),
        refused: await store.refused.toArray(),
        bundle: await bundleState(store),
      })).subscribe({ next: setState, error: () => setState(null) });
      stop = () => seen.unsubscribe();
    });
    return () => stop();
  }, []);
  return state;
}

/** Sends what waits and fetches the bundle, whenever there may be reach again. */
function useSending(waiting: number): { end: DrainEnd | null; none: NoStore } {
  const [end, setEnd] = useState<DrainEnd | null>(null);
  const [none, setNone] = useState<NoStore>(null);
  useEffect(() => {
    const look = async () => {
      const store = await deviceStore();
      setNone(store ? null : whyNoStore());
      if (!store) return;
      const ended = await drain();
      setEnd(ended);
      if (ended === "signed-out") await forgetIfNothingWaits();
      else if (!(await takeBundle()) && ended === "empty" && !navigator.onLine) setEnd("unreached");
    };
    const seen = () => document.visibilityState === "visible" && void look();
    void look();
    void navigator.storage?.persist?.();
    window.addEventListener("online", look);
    document.addEventListener("visibilitychange", seen);
    const timer = setInterval(look, BUNDLE_MS);
    return () => {
      window.removeEventListener("online", look);
      document.removeEventListener("visibilitychange", seen);
      clearInterval(timer);
    };
  }, []);
  useEffect(() => {
    if (waiting === 0) return;
    const timer = setInterval(() => void drain().then(setEnd), RETRY_MS);
    return () => clearInterval(timer);
  }, [waiting]);
  useEffect(() => onSynced(() => setEnd("empty")), []);
  return { end, none };
}

/** Signed out elsewhere, or the session is over: the bundle goes, unless something here was not sent yet. */
async function forgetIfNothingWaits(): Promise<void> {
  const store = await deviceStore();
  const member = memberHere();
  if (!store || !member) return;
  if ((await store.waiting.count()) + (await store.refused.count()) > 0) return;
  await wipe(member);
  window.location.assign("/sign-in");
}

/** In words where there is room; a phone's header has room for a number. */
const Count = ({ short, long }: { short: number; long: string }) => (
  <>
    <span aria-hidden="true" className="wide:hidden">
      {short}
    </span>
    <span className="sr-only wide:not-sr-only">{long}</span>
  </>
);

/** The mark as it is read aloud. */
function markName({ waiting, refused }: DeviceState): string {
  const said = words.store;
  if (refused.length > 0) return `${said.open}: ${said.refused({ count: refused.length })}`;
  return waiting > 0 ? `${said.open}: ${said.kept({ count: waiting })}` : said.open;
}
