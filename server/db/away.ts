/** When the database cannot be written or read for a while, and nobody who asks has done anything wrong. */

/**
 * SQLSTATE classes and codes after which the same request may be made again later: connection lost, out
 * of resources, shutting down or recovering, broken storage, taken back for another's sake.
 * @see https://www.postgresql.org/docs/15/errcodes-appendix.html
 */
const CLASSES = ["08", "53", "57", "58"];
const CODES = [
  "25006", // read_only_sql_transaction
  "25P03", // idle_in_transaction_session_timeout
  "28000", // invalid_authorization_specification
  "28P01", // invalid_password
  "3D000", // invalid_catalog_name: a restore is putting another in its place
  "40001", // serialization_failure
  "40P01", // deadlock_detected
  "55P03", // lock_not_available
];

/** What the driver says when there is no answer at all; it gives these no code. */
const SILENT =
  /Connection terminated|Client network socket disconnected|Query read timeout|timeout exceeded when trying to connect|not queryable|driver has already been destroyed|Cannot use a pool after calling end/;

const codeOf = (fault: unknown): string => {
  const code = (fault as { code?: unknown } | null)?.code;
  return typeof code === "string" ? code : "";
};

const SQLSTATE = /^[0-9A-Z]{5}$/;
/** A certificate that ran out, or is of an authority that is not known: whoever runs the servers can mend it. */
const CERTIFICATE = /^(CERT_|ERR_TLS_|UNABLE_TO_|SELF_SIGNED_|DEPTH_ZERO_)/;

/** Whether the database was away, hung, full, read-only, out of connections or held by somebody else. */
export function isUnavailable(fault: unknown): boolean {
  const code = codeOf(fault);
  if (SQLSTATE.test(code)) return CLASSES.some((one) => code.startsWith(one)) || CODES.includes(code);
  if (CERTIFICATE.test(code)) return true;
  if (/^E[A-Z]{4,}$/.test(code) && (fault as { syscall?: unknown }).syscall !== undefined) return true;
  return fault instanceof Error && SILENT.test(fault.message);
}

/**
 * Whether a database may come yet: nobody listens there, or it is starting. A wrong password, name or certificate stays
 * wrong.
 * @example isStarting(Object.assign(new Error(), { code: "ECONNREFUSED", syscall: "connect" })) // true
 */
export function isStarting(fault: unknown): boolean {
  const code = codeOf(fault);
  return SQLSTATE.test(code) ? /^(08|53|57P)/.test(code) : isUnavailable(fault) && !CERTIFICATE.test(code);
}

/** Whether the connection behind this fault is of no more use: it gave no answer, or its backend ends. */
export function isBroken(fault: unknown): boolean {
  const code = codeOf(fault);
  return SQLSTATE.test(code) ? /^(08|57P|25P03)/.test(code) : isUnavailable(fault);
}

/**
 * Whether what was sent does not fit the tables: text that is none, a day beyond the calendar, a key that
 * stands for something else already. Ours to refuse, not to break on.
 */
export const isInvalidData = (fault: unknown): boolean => /^2[23][0-9A-Z]{3}$/.test(codeOf(fault));

/** Whether the walls said no: a row is somebody else's, or a role may not do this. */
export const isPermissionDenied = (fault: unknown): boolean => codeOf(fault) === "42501";
