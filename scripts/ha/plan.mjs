// Which part of a cluster runs where: on one machine on loopback, or on three by their addresses.

import { randomBytes } from "node:crypto";
import { existsSync, mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { Plain } from "../lib/terminal.mjs";

/** Of the files that a cluster is started from; a folder of another is not gone on with. */
const VERSION = 1;
const NODES = ["one", "two", "three"];
/** Whom Patroni and the parts sign in as, beside the roles of Pelagon itself. */
export const SUPERUSER = "pelagon_cluster";
export const REPLICA = "pelagon_replica";
export const OWNER = "pelagon";
export const WEB = "pelagon_web";
const SECRETS = [SUPERUSER, REPLICA, OWNER, WEB, "patroni"];

/**
 * A cluster on this machine: every part has a port of its own from `base` on.
 * @param base first of 60 ports
 */
export function onLoopback(folder, base = 15_400) {
  const at = (offset) => base + offset;
  return {
    version: VERSION,
    folder,
    tls: null,
    // Where there is none a node is fenced by the store alone.
    watchdog: "automatic",
    nodes: NODES.map((name, index) => ({
      name,
      host: "127.0.0.1",
      etcdPort: at(10 + index),
      etcdPeerPort: at(20 + index),
      patroniPort: at(30 + index),
      postgresPort: at(40 + index),
    })),
    proxy: { host: "127.0.0.1", web: at(0), leader: at(1), replicas: at(2), figures: at(3) },
    web: [0, 1].map((index) => ({
      name: `web-${index + 1}`,
      host: "127.0.0.1",
      port: at(50 + index),
      metricsPort: at(55 + index),
    })),
  };
}

const fileOf = (folder) => join(folder, "cluster.json");

/** The cluster of this folder, made by `make` when there is none. */
export function planOf(folder, base, make = onLoopback) {
  const file = fileOf(folder);
  if (!existsSync(file)) {
    mkdirSync(folder, { recursive: true, mode: 0o755 });
    const plan = make(folder, base);
    writeFileSync(file, `${JSON.stringify(plan, null, 2)}\n`);
    return plan;
  }
  let plan;
  try {
    plan = JSON.parse(readFileSync(file, "utf8"));
  } catch (fault) {
    throw new Plain(
      `${file} is no JSON (${fault.message}). Put it back from a copy, or move ${folder} aside.`,
    );
  }
  if (plan.version !== VERSION)
    throw new Plain(
      `${folder} was made by another version of the cluster's files (${plan.version}; this one knows ${VERSION}). Start it by the version that made it, or move the folder aside and restore a backup.`,
    );
  return plan;
}

/** The secrets of the cluster, made when there are none; each in a file that only its owner reads. */
export function secretsOf(folder) {
  const place = join(folder, "secrets");
  mkdirSync(place, { recursive: true, mode: 0o700 });
  return Object.fromEntries(
    SECRETS.map((name) => {
      const file = join(place, name);
      if (!existsSync(file))
        writeFileSync(file, `${randomBytes(24).toString("base64url")}\n`, { mode: 0o600 });
      return [name, readFileSync(file, "utf8").trim()];
    }),
  );
}
