// Three machines on one: each node of a cluster in a network of its own, joined by a bridge, with certificates between.
import { chmodSync, chownSync, existsSync, mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { Plain, run } from "../lib/terminal.mjs";
import { onLoopback } from "./plan.mjs";

const BRIDGE = "pelagon-br";
/** Of RFC 2544, for tests between networks: no address that anybody uses. */
const address = (last) => `198.18.87.${last}`;
/** What reaches the nodes: haproxy, the web servers and whoever looks after them. */
const HOST = address(1);

const ip = (...args) => {
  const { code, out } = run("ip", args);
  if (code !== 0) throw new Plain(`ip ${args.join(" ")}: ${out}`);
};

/** Whether this account may make networks here. */
export function mayMakeNetworks() {
  const tried = `${BRIDGE}-try`;
  if (run("ip", ["netns", "add", tried]).code !== 0) return false;
  run("ip", ["netns", "del", tried]);
  return true;
}

/** A cluster whose nodes are as far from one another as machines are; TLS between them by certificates of its own. */
export function apart(folder, base) {
  const plan = onLoopback(folder, base);
  const tls = certificates(join(folder, "tls"), [HOST, ...plan.nodes.map((_, index) => address(11 + index))]);
  return {
    ...plan,
    tls,
    // There is none in a network of its own.
    watchdog: "off",
    nodes: plan.nodes.map((node, index) => ({
      ...node,
      host: address(11 + index),
      network: `pelagon-${node.name}`,
    })),
    proxy: { ...plan.proxy, host: HOST },
  };
}

/** Makes the networks of a plan, new. */
export function makeNetworks(plan) {
  takeNetworksAway(plan);
  ip("link", "add", BRIDGE, "type", "bridge");
  ip("addr", "add", `${HOST}/24`, "dev", BRIDGE);
  ip("link", "set", BRIDGE, "up");
  for (const { host, network } of plan.nodes) {
    ip("netns", "add", network);
    ip("link", "add", lineOf(network), "type", "veth", "peer", "name", "eth0", "netns", network);
    ip("link", "set", lineOf(network), "master", BRIDGE, "up");
    ip("-n", network, "addr", "add", `${host}/24`, "dev", "eth0");
    for (const device of ["eth0", "lo"]) ip("-n", network, "link", "set", device, "up");
  }
}

export function takeNetworksAway(plan) {
  for (const { network } of plan.nodes) run("ip", ["netns", "del", network]);
  run("ip", ["link", "del", BRIDGE]);
}

/** Interface names have 15 characters at most. */
const lineOf = (network) => network.slice(0, 15);

/** As if somebody pulled the node's cable, and put it back. */
export const cutOff = ({ network }) => ip("link", "set", lineOf(network), "down");
export const joinAgain = ({ network }) => ip("link", "set", lineOf(network), "up");

/** A program as an account, in the network of a node; root alone may. */
export const inNetwork = (network, { uid, gid }, program, args) => [
  "ip",
  [
    "netns",
    "exec",
    network,
    "setpriv",
    `--reuid=${uid}`,
    `--regid=${gid}`,
    "--clear-groups",
    program,
    ...args,
  ],
];

/**
 * An authority, and one certificate of it for all these addresses, as server and as client. Made by openssl.
 * @param owner who may read its key
 * @param days until it runs out
 */
export function certificates(place, addresses, owner = account(), days = 365) {
  const file = (name) => join(place, name);
  const made = { ca: file("ca.crt"), cert: file("node.crt"), key: file("node.key") };
  if (existsSync(made.cert)) return made;
  mkdirSync(place, { recursive: true, mode: 0o755 });
  const openssl = (...args) => {
    const { code, out } = run("openssl", args);
    if (code !== 0) throw new Plain(`openssl ${args[0]}: ${out}`);
  };
  const key = ["-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes"];
  openssl(
    "req",
    "-x509",
    ...key,
    ...["-keyout", file("ca.key"), "-out", made.ca, "-days", `${days}`, "-subj", "/CN=Pelagon cluster"],
  );
  const names = addresses.map((one) => `IP:${one}`).join(",");
  writeFileSync(
    file("node.ext"),
    `subjectAltName=${names},IP:127.0.0.1\nextendedKeyUsage=serverAuth,clientAuth\n`,
  );
  openssl("req", ...key, "-keyout", made.key, "-out", file("node.csr"), "-subj", "/CN=pelagon node");
  openssl(
    "x509",
    ...["-req", "-in", file("node.csr"), "-CA", made.ca, "-CAkey", file("ca.key"), "-CAcreateserial"],
    ...["-out", made.cert, "-days", `${days}`, "-extfile", file("node.ext")],
  );
  chmodSync(made.key, 0o600);
  for (const readable of [made.ca, made.cert]) chmodSync(readable, 0o644);
  if (owner) chownSync(made.key, owner.uid, owner.gid);
  return made;
}

function account() {
  const number = (of) => Number(run("id", [of, "postgres"]).out);
  return process.getuid?.() === 0 ? { uid: number("-u"), gid: number("-g") } : null;
}
