import type { AuditAction, AuditEntry } from "#server/db/audit";

/** What somebody signed in on, by what their browser says of itself. */
function deviceName(agent: string): string {
  const system = /(iPhone|iPad|Android|Windows|Mac OS|Linux)/.exec(agent)?.[1] ?? "another device";
  return system === "Mac OS" ? "Mac" : system;
}

/** The team in English: who may do what, links that open one thing, and who did what. */
export const teamWords = {
  team: {
    title: "Team",
    hint: "Owners manage the firm. Technicians make visits. Readers see their own sites and change nothing.",
    you: "(you)",
    role: "Role",
    save: "Save",
    shut: "Block",
    letIn: "Unblock",
    shutOut: "Blocked: cannot sign in.",
    sees: "Sees these sites",
    invite: "Invite someone",
    name: "Name",
    make: "Create link",
    linkHint: "Send this link yourself. It works once, for seven days, and is not shown again.",
    open: "Open invitations",
    until: (day: string) => `until ${day}`,
    withdraw: "Withdraw",
    roleHints: {
      owner: "Manages the firm: team, prices, ranges, exports.",
      technician: "Makes visits and keeps the shelf.",
      reader: "A customer: sees the basins and finished visits of their own sites, and nothing else.",
    },
    join: "Join",
    newPassword: "Set a new password",
    resetFor: (name: string) => `For ${name}. The link works once. All your other devices are signed out.`,
    setPassword: "Set password",
    changePassword: "Change password",
    nextPassword: (shortest: number) => `New password, at least ${shortest} characters`,
    currentPassword: "Current password",
    passwordChanged: "Password changed. Your other devices are signed out.",
    makeReset: "Create password link",
    resetHint: "Send this link yourself. It works once, for a day, and is not shown again.",
    imported: "Imported from a file: cannot sign in. Invite them to give them access.",
    joinFirm: (firm: string) => `Join ${firm}`,
    as: "You are invited as",
    password: (shortest: number) => `Choose a password, at least ${shortest} characters`,
    device: deviceName,
  },
  link: { label: "Link", copy: "Copy", copied: "Copied" },
  audit: {
    title: "Who did what",
    none: "Nothing yet.",
    night: "background job",
    older: "Older",
  },
};

const ACTIONS: Record<AuditAction, (name: string) => string> = {
  "member-invited": (name) => `Invited ${name}`,
  "invite-withdrawn": (name) => `Withdrew the invitation of ${name}`,
  "member-joined": (name) => `${name} joined`,
  "member-changed": (name) => `Changed the role of ${name}`,
  "member-shut-out": (name) => `Blocked ${name}`,
  "member-let-in": (name) => `Unblocked ${name}`,
  "card-made": (name) => `Made a dose card: ${name}`,
  "card-withdrawn": (name) => `Withdrew a dose card: ${name}`,
  "share-made": (name) => `Shared a visit sheet: ${name}`,
  "share-withdrawn": (name) => `Withdrew the link of a visit sheet: ${name}`,
  "feed-made": (name) => `Created a calendar address${name ? `: ${name}` : ""}`,
  "signed-in": (name) => `Signed in on ${deviceName(name)}`,
  "signed-out": () => "Signed out",
  "signed-out-everywhere": () => "Signed out everywhere",
  "password-changed": () => "Changed their password",
  "reset-made": (name) => `Created a password link: ${name}`,
  "password-reset": () => "Set a new password with a link",
  "feed-withdrawn": (name) => `Withdrew a calendar address: ${name}`,
  "basin-changed": (name) => `Changed the basin ${name}`,
  "firm-changed": () => "Changed the firm's settings",
  "product-changed": (name) => `Changed the product ${name}`,
  "reading-corrected": (name) => `Corrected a reading: ${name}`,
  "call-skipped": (name) => `Skipped a stop: ${name}`,
  "book-imported": (name) => `Imported ${name}`,
  "book-exported": (name) => `Exported ${name}`,
  "stock-counted": (name) => `Counted stock: ${name}`,
  "work-taken-in": (name) => `Added work of ${name} from a file`,
};

const plain = (value: unknown): string => {
  if (value === null || value === undefined || value === "") return "nothing";
  if (Array.isArray(value)) return value.length === 0 ? "nothing" : value.map(plain).join(", ");
  if (typeof value === "object")
    return (
      Object.entries(value as object)
        .map(([name, one]) => `${name} ${plain(one)}`)
        .join(", ") || "nothing"
    );
  return String(value);
};

/** What was done, with what it changed: "Changed the basin Terrace pool (litres: 38000 → 41500)". */
export function auditText({ action, detail }: Pick<AuditEntry, "action" | "detail">): string {
  const changes = Object.entries(detail.changes ?? {}).map(
    ([name, { was, became }]) => `${CHANGED[name] ?? name}: ${plain(was)} → ${plain(became)}`,
  );
  const count = detail.count === undefined ? "" : `, ${detail.count} visits`;
  return `${ACTIONS[action]?.(detail.name ?? "") ?? action}${count}${changes.length > 0 ? ` (${changes.join("; ")})` : ""}`;
}

const CHANGED: Record<string, string> = {
  siteIds: "sites",
  litres: "liters",
  callDays: "visit days",
  everyWeeks: "number of weeks",
  pricePerKg: "price per kg",
  rangeSetId: "range set",
  kitId: "kit",
  forgetDays: "days an offline device keeps the round",
};
