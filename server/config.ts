import { isIPv4, isIPv6 } from "node:net";
import Joi from "joi";
import { plainCode } from "./auth/plain-code";

/** What the web server is told by its environment. See the README for each. */
export interface Config {
  databaseUrl: string;
  /** Owner of the tables, for what is done at the start only; null where one role is both. */
  databaseOwnerUrl: string | null;
  /** A replica of the database, for what may be some seconds old; null where there is none. */
  databaseReplicaUrl: string | null;
  /** Connections to the database at most, and as many to the replica. */
  connections: number;
  /** Whether the demo firm is to be loaded: once, or again after it was thrown away. */
  demo: "no" | "once" | "again";
  host: string;
  port: number;
  /** Public address when behind a proxy; its scheme decides the cookie's Secure and the Origin check. */
  publicUrl: string | null;
  /** Whose word is taken for where a request comes from, as addresses and networks; null for none. */
  trustedProxies: string[] | null;
  /** Port of this machine on which figures are told; null for none. */
  metricsPort: number | null;
  /** After SIGTERM `/health` says no for so long before no more is taken. Seconds */
  drain: number;
  logLevel: string;
  /** Addresses of photometers, see docs/photometer.md; null when none were named. */
  photometers: string[] | null;
  /** Address of a weather service, see docs/weather.md; null when none was named. */
  weather: string | null;
  /** Whether this process takes jobs out of the queue; it puts them in either way. */
  jobs: boolean;
  /** How long a database that does not answer at the start is waited for. Seconds */
  databaseWait: number;
  /** With which passwords of mail servers are sealed; null where none can be kept. */
  secretsKey: string | null;
  /** What a token of the interface may ask of this server in a minute. */
  apiRequests: number;
  /** Whether webhooks may name machines of the own network. */
  hooksInside: boolean;
  /** With which a fresh instance is set up; null for one that is made up at the start. */
  setupCode: string | null;
}

/** Addresses and networks, parted by blanks: 10.0.0.0/24 192.0.2.7 */
function proxies(text: string, helpers: Joi.CustomHelpers): string[] | Joi.ErrorReport {
  const named = text.split(/\s+/).filter(Boolean);
  const isOne = (one: string) => {
    const [address = "", bits, ...more] = one.split("/");
    const most = isIPv4(address) ? 32 : isIPv6(address) ? 128 : 0;
    if (bits === undefined) return most > 0 || one === "loopback";
    return most > 0 && more.length === 0 && /^\d{1,3}$/.test(bits) && Number(bits) <= most;
  };
  return named.length > 0 && named.every(isOne) ? named : helpers.error("any.invalid");
}

const schema = Joi.object({
  DATABASE_URL: Joi.string()
    .uri({ scheme: ["postgres", "postgresql"] })
    .required(),
  DATABASE_OWNER_URL: Joi.string().uri({ scheme: ["postgres", "postgresql"] }),
  DATABASE_REPLICA_URL: Joi.string().uri({ scheme: ["postgres", "postgresql"] }),
  DATABASE_WAIT: Joi.number().integer().min(0).max(86_400).default(300),
  DATABASE_CONNECTIONS: Joi.number().integer().min(1).max(100).default(10),
  PELAGON_DEMO: Joi.valid("0", "1", "again").default("0"),
  HOST: Joi.string().hostname().default("127.0.0.1"),
  PORT: Joi.number().port().default(4380),
  PUBLIC_URL: Joi.string().uri({ scheme: ["http", "https"] }),
  TRUSTED_PROXIES: Joi.string().custom(proxies),
  METRICS_PORT: Joi.number().port(),
  DRAIN: Joi.number().integer().min(0).max(300).default(0),
  PHOTOMETERS: Joi.string().pattern(/^((tcp|http):\/\/[\w.-]+:\d{1,5})( (tcp|http):\/\/[\w.-]+:\d{1,5})*$/),
  WEATHER: Joi.string().uri({ scheme: ["http", "https"] }),
  // Only its letters and figures count, as they are compared: eight blanks are no code.
  SETUP_CODE: Joi.string()
    .max(60)
    .custom((code: string, helpers) =>
      plainCode(code).length < 8 ? helpers.error("string.min", { limit: 8 }) : code,
    ),
  SECRETS_KEY: Joi.string().min(20).max(200),
  API_REQUESTS: Joi.number().integer().min(1).max(1_000_000).default(600),
  WEBHOOKS_INSIDE: Joi.valid("on", "off").default("off"),
  JOBS: Joi.valid("on", "off").default("on"),
  LOG_LEVEL: Joi.valid("fatal", "error", "warn", "info", "debug", "silent").default("warn"),
}).unknown();

/** Reads the configuration, or throws with every fault in it named. */
export function readConfig(environment: NodeJS.ProcessEnv): Config {
  const { value, error } = schema.validate(environment, { abortEarly: false });
  if (error) {
    // Joi's messages repeat the value; a database address holds a password.
    const faults = error.details.map(({ path, type, context }) => {
      const shown = /^(DATABASE_|SECRETS_KEY)/.test(String(path[0]))
        ? ""
        : ` (given: ${String(context?.value)})`;
      return `  ${path.join(".")}: ${type}${shown}`;
    });
    throw new Error(`The configuration cannot be used:\n${faults.join("\n")}`);
  }
  return {
    databaseUrl: value.DATABASE_URL,
    databaseOwnerUrl: value.DATABASE_OWNER_URL ?? null,
    databaseReplicaUrl: value.DATABASE_REPLICA_URL ?? null,
    connections: value.DATABASE_CONNECTIONS,
    databaseWait: value.DATABASE_WAIT,
    demo: value.PELAGON_DEMO === "again" ? "again" : value.PELAGON_DEMO === "1" ? "once" : "no",
    host: value.HOST,
    port: value.PORT,
    publicUrl: value.PUBLIC_URL ?? null,
    secretsKey: value.SECRETS_KEY ?? null,
    // Behind a public address there is one, and mostly on this machine.
    trustedProxies: value.TRUSTED_PROXIES ?? (value.PUBLIC_URL ? ["loopback"] : null),
    metricsPort: value.METRICS_PORT ?? null,
    drain: value.DRAIN,
    logLevel: value.LOG_LEVEL,
    photometers: value.PHOTOMETERS?.split(" ") ?? null,
    weather: value.WEATHER ?? null,
    apiRequests: value.API_REQUESTS,
    hooksInside: value.WEBHOOKS_INSIDE === "on",
    jobs: value.JOBS === "on",
    setupCode: value.SETUP_CODE ?? null,
  };
}

/** Whether the server can be reached from this machine only. */
export const onLoopback = (host: string): boolean =>
  host === "localhost" || host === "::1" || host.startsWith("127.");
