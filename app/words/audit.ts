import type { AuditEntry } from "#server/db/audit";
import { fill, words } from "./language";
import { listText } from "./numbers";

/** What somebody signed in on, by what their browser says of itself. */
export function deviceName(agent: string): string {
  return /(iPhone|iPad|Android|Windows|Mac|Linux)/.exec(agent)?.[1] ?? words.otherDevice;
}

function plain(value: unknown): string {
  const { nothing } = words.audit;
  if (value === null || value === undefined || value === "") return nothing;
  if (Array.isArray(value)) return value.length === 0 ? nothing : listText(value.map(plain));
  if (typeof value === "object")
    return listText(Object.entries(value).map(([name, one]) => `${name} ${plain(one)}`)) || nothing;
  return String(value);
}

/** What was done, with what it changed: "Changed the basin Terrace pool (liters: 38000 → 41500)". */
export function auditText({ action, detail }: Pick<AuditEntry, "action" | "detail">): string {
  const said = words.audit;
  const changes = Object.entries(detail.changes ?? {}).map(
    ([name, { was, became }]) =>
      `${name in said.fields ? said.fields[name as keyof typeof said.fields] : name}: ${plain(was)} → ${plain(became)}`,
  );
  const name = detail.name ?? "";
  const done =
    action === "feed-made" && name
      ? said.feedMadeFor({ name })
      : fill(said.actions[action], { name: action === "signed-in" ? deviceName(name) : name });
  const count = detail.count === undefined ? "" : `, ${said.visits({ visits: detail.count })}`;
  return `${done}${count}${changes.length > 0 ? ` (${changes.join("; ")})` : ""}`;
}
