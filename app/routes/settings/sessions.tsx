import { useFetcher } from "react-router";
import type { OpenSession } from "#server/db/sessions";
import { Button } from "../../ui/button";
import { ago } from "../../ui/format";
import { deviceName, words } from "../../words";

/** Where somebody is signed in, and a way to end each. */
export function Sessions({ sessions, now }: { sessions: OpenSession[]; now: Date }) {
  const fetcher = useFetcher();
  const said = words.settings;
  return (
    <ul className="w-full divide-y divide-rule">
      {sessions.map((session) => (
        <li key={session.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
          <span>
            {deviceName(session.userAgent)}{" "}
            <span className="text-soft">
              {session.own ? said.thisDevice : said.used({ when: ago(session.seenAt, now) })}
            </span>
          </span>
          {session.own ? null : (
            <Button
              type="button"
              quiet
              onClick={() =>
                fetcher.submit(
                  { command: "end-session", id: session.id },
                  { method: "post", action: "/settings" },
                )
              }
            >
              {said.endSession}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
