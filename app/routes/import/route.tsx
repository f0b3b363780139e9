import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { allBasins } from "#server/db/basins";
import { productsOf } from "#server/db/products";
import type { Mapping } from "#server/exchange/import/mapping";
import { inFirm, ownerOnly } from "../../context";
import type { FaultView } from "../../fault";
import { Button } from "../../ui/button";
import { plain } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { faultSentence, words } from "../../words";
import type { Route } from "./+types/route";
import { Columns } from "./columns";
import type { UploadView } from "./view";

export const loader = ({ context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope) => ({
    basins: (await allBasins(scope)).map(({ id, name, site }) => ({ id, name: `${name}, ${site.name}` })),
    products: (await productsOf(scope)).map(({ id, name }) => ({ id, name })),
  }));
};

export const meta: Route.MetaFunction = () => [{ title: `${words.import.title} · ${words.product}` }];

type Answer = (UploadView & { fault?: undefined }) | { fault: FaultView };

async function ask(path: string, init?: RequestInit): Promise<Answer | "offline"> {
  try {
    const answer = await fetch(path, init);
    return answer.headers.get("content-type")?.includes("json") ? await answer.json() : "offline";
  } catch {
    return "offline";
  }
}

/** Brings a book in: our own files as they are, a spreadsheet by saying what its columns are. */
export default function Import({ loaderData }: Route.ComponentProps) {
  const [upload, setUpload] = useState<UploadView | null>(null);
  const [mapping, setMapping] = useState<Mapping | null>(null);
  const [fault, setFault] = useState<FaultView | "offline" | null>(null);
  const [sending, setSending] = useState(false);
  const said = words.import;
  const asks = useRef({ asked: 0, taken: 0 });
  /** Asks, and takes the answer unless a later question was answered before it. */
  const take = async (path: string, init?: RequestInit) => {
    const number = ++asks.current.asked;
    const answer = await ask(path, init);
    if (number < asks.current.taken) return null;
    asks.current.taken = number;
    if (answer === "offline") setFault("offline");
    else if (answer.fault) setFault(answer.fault);
    else {
      setFault(null);
      setUpload(answer);
      return answer;
    }
    return null;
  };
  const send = async (file: File) => {
    setSending(true);
    setUpload(null);
    const query = new URLSearchParams({ id: uuid(), name: file.name });
    const taken = await take(`/book/import/file?${query}`, {
      method: "POST",
      body: file,
      headers: { "Content-Type": "application/octet-stream" },
    });
    setMapping(taken?.table?.guess ?? null);
    setSending(false);
  };
  const give = async (command: "try" | "run" | "stop") => {
    if (!upload) return;
    await take(`/book/import/${upload.id}`, {
      method: "POST",
      body: JSON.stringify({ command, mapping }),
      headers: { "Content-Type": "application/json" },
    });
  };
  const running = upload?.report?.state === "running";
  useEffect(() => {
    if (!running || !upload) return;
    const timer = setInterval(() => void take(`/book/import/${upload.id}`), 500);
    return () => clearInterval(timer);
  });
  const tried = upload?.report?.dry === true && upload.report.state === "done";
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="max-w-prose text-soft">{said.hint}</p>
        <p className="flex flex-wrap gap-x-4">
          <Link to="/book" className="link min-h-[44px] content-center">
            {words.book.title}
          </Link>
          <a href="/schemas/book.json" className="link min-h-[44px] content-center">
            {said.schema}
          </a>
        </p>
      </header>
      <label className="quiet-action justify-self-start has-focus-visible:outline-3 has-focus-visible:outline-action">
        {sending ? said.sending : said.choose}
        <input
          type="file"
          accept=".csv,.txt,.tsv,.json"
          className="sr-only"
          disabled={sending || running}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (file) void send(file);
          }}
        />
      </label>
      <Refused answer={fault === "offline" ? { offline: true } : fault ? { fault } : undefined} />
      {upload ? (
        <section className="sheet grid gap-3 p-4">
          <h2 className="text-xl font-semibold">{upload.name}</h2>
          <p className="text-soft">
            {upload.bytes < 1e6
              ? said.kilobytes({ kilobytes: plain(upload.bytes / 1e3, 1) })
              : said.size({ megabytes: plain(upload.bytes / 1e6, 1) })}{" "}
            {upload.table ? (upload.table.own ? said.ownTable : said.table) : said.ownBook}
          </p>
          {upload.table && !upload.table.own && mapping ? (
            <Columns table={upload.table} mapping={mapping} change={setMapping} {...loaderData} />
          ) : null}
          <div className="flex flex-wrap gap-3">
            <Button type="button" quiet={tried} busy={running} onClick={() => give("try")}>
              {said.try}
            </Button>
            <Button type="button" quiet={!tried} busy={running} disabled={!tried} onClick={() => give("run")}>
              {said.run}
            </Button>
            {running ? (
              <Button type="button" quiet onClick={() => give("stop")}>
                {said.stop}
              </Button>
            ) : null}
          </div>
          <Report upload={upload} />
        </section>
      ) : null}
    </div>
  );
}

/** How far it came, and every row that is wrong. */
function Report({ upload: { report, table } }: { upload: UploadView }) {
  const said = words.import;
  if (!report) return null;
  const counts = said.counts({ fresh: plain(report.fresh, 0), known: plain(report.known, 0) });
  return (
    <div className="grid gap-2" aria-live="polite">
      {report.state === "running" ? (
        <>
          <progress max={1} value={report.share} className="w-full" aria-label={said.progress} />
          <p>
            {plain(report.share * 100, 0)}% · {counts}
          </p>
        </>
      ) : (
        <p className="font-semibold">
          {report.state === "done"
            ? report.dry
              ? said.tried
              : said.done
            : report.dry
              ? said.notGood
              : said.states[report.state]}{" "}
          {report.state === "done" ? counts : ""}
        </p>
      )}
      {report.faultCount > 0 ? (
        <>
          <p className="text-above">
            {said.faults({ count: report.faultCount })}
            {report.faultCount > report.faults.length
              ? ` ${said.first({ count: plain(report.faults.length, 0) })}`
              : ""}
          </p>
          <table className="w-full text-left text-sm">
            <thead className="text-soft">
              <tr>
                <th className="pr-4 font-medium">{table ? said.row : ""}</th>
                <th className="pr-4 font-medium">{said.column}</th>
                <th className="font-medium">{said.wrong}</th>
              </tr>
            </thead>
            <tbody className="divide-y divide-rule">
              {report.faults.map((fault, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: faults are only ever added
                <tr key={index}>
                  <td className="py-1 pr-4">{fault.row ?? ""}</td>
                  <td className="pr-4">{fault.column}</td>
                  <td>{faultSentence({ ...fault, field: fault.column })}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : null}
    </div>
  );
}
