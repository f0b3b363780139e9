// The configuration of each part, from the plan of the cluster. The settings and why they are so: docs/operating.md.
import { join } from "node:path";
import { postgresPrograms } from "../lib/provision.mjs";
import { OWNER, REPLICA, SUPERUSER, WEB } from "./plan.mjs";

const scheme = ({ tls }) => (tls ? "https" : "http");

/** What etcd of a node is started with. */
export function etcdArguments(plan, node) {
  const own = (port) => `${scheme(plan)}://${node.host}:${port}`;
  const { tls } = plan;
  return [
    `--name=${node.name}`,
    `--data-dir=${join(plan.folder, node.name, "etcd")}`,
    // Patroni 3.0 compares before it writes the leader's key by this interface only.
    "--enable-v2=true",
    `--listen-client-urls=${own(node.etcdPort)}`,
    `--advertise-client-urls=${own(node.etcdPort)}`,
    `--listen-peer-urls=${own(node.etcdPeerPort)}`,
    `--initial-advertise-peer-urls=${own(node.etcdPeerPort)}`,
    `--initial-cluster=${plan.nodes.map(({ name, host, etcdPeerPort }) => `${name}=${scheme(plan)}://${host}:${etcdPeerPort}`).join(",")}`,
    "--initial-cluster-token=pelagon",
    "--heartbeat-interval=100",
    "--election-timeout=500",
    "--logger=zap",
    "--log-level=warn",
    ...(tls
      ? [
          `--cert-file=${tls.cert}`,
          `--key-file=${tls.key}`,
          `--trusted-ca-file=${tls.ca}`,
          "--client-cert-auth",
          `--peer-cert-file=${tls.cert}`,
          `--peer-key-file=${tls.key}`,
          `--peer-trusted-ca-file=${tls.ca}`,
          "--peer-client-cert-auth",
        ]
      : []),
  ];
}

/**
 * Patroni of a node, as a program and its arguments. A database that outlived the Patroni before is stopped at once:
 * Patroni takes up such a one by taking its `synchronous_standby_names` away before it looks who leads, and what waited
 * for the standby is acknowledged, though nobody else has it.
 */
export const patroniCommand = (plan, node, file) => [
  "/bin/sh",
  [
    "-c",
    '"$0" stop --mode=immediate --pgdata="$1" --silent 2> /dev/null; exec /usr/bin/patroni "$2"',
    join(postgresPrograms(), "pg_ctl"),
    join(plan.folder, node.name, "data"),
    file,
  ],
];

/** Settings of the database that all nodes share. */
const PARAMETERS = {
  max_connections: 200,
  wal_level: "replica",
  hot_standby: "on",
  max_wal_senders: 10,
  max_replication_slots: 10,
  wal_keep_size: "256MB",
  synchronous_commit: "on",
  // A peer that died is noticed: by its silence, not by the kernel's two hours.
  tcp_keepalives_idle: 5,
  tcp_keepalives_interval: 2,
  tcp_keepalives_count: 3,
  tcp_user_timeout: "8s",
  wal_sender_timeout: "5s",
  wal_receiver_timeout: "5s",
  archive_mode: "on",
  archive_timeout: "60s",
  unix_socket_directories: "",
  password_encryption: "scram-sha-256",
  shared_buffers: "128MB",
  log_min_messages: "warning",
};

/** Copied, on the disk, and only then under its name: a half file is never taken for a whole one. */
const archiveCommand = (archive) =>
  `test -f ${archive}/%f || (cp %p ${archive}/%f.part && sync ${archive}/%f.part && mv ${archive}/%f.part ${archive}/%f)`;

const verified = (tls) => (tls ? { sslmode: "verify-full", sslrootcert: tls.ca } : {});

/** Patroni's file for a node. JSON is YAML. */
export function patroniFile(plan, node, secrets) {
  const archive = join(plan.folder, "archive");
  const place = join(plan.folder, node.name);
  const { tls } = plan;
  const dcs = {
    // A whole node that is gone costs ttl and about three seconds more.
    ttl: 5,
    loop_wait: 1,
    retry_timeout: 2,
    primary_start_timeout: 0,
    maximum_lag_on_failover: 0,
    // Only the standby that has every acknowledged write may lead.
    synchronous_mode: true,
    synchronous_node_count: 1,
    // Without etcd the leader goes on while it reaches every other node.
    failsafe_mode: true,
    postgresql: {
      // A rewind whose source falls leaves a folder that never starts again.
      use_pg_rewind: false,
      use_slots: true,
      parameters: { ...PARAMETERS, archive_command: archiveCommand(archive) },
      recovery_conf: { restore_command: `cp ${archive}/%f %p` },
    },
  };
  // The other nodes, and whoever comes by haproxy: what it passes on comes from its own address.
  const networks = tls ? [...plan.nodes, plan.proxy].map(({ host }) => `${host}/32`) : ["127.0.0.1/32"];
  const kind = tls ? "hostssl" : "host";
  return JSON.stringify(
    {
      scope: "pelagon",
      name: node.name,
      restapi: {
        listen: `${node.host}:${node.patroniPort}`,
        connect_address: `${node.host}:${node.patroniPort}`,
        authentication: { username: "patroni", password: secrets.patroni },
        ...(tls ? { certfile: tls.cert, keyfile: tls.key, cafile: tls.ca, verify_client: "optional" } : {}),
      },
      // The v2 interface: by the v3 one this version overwrites the leader's key without comparing, and a leader
      // that was paused takes the lock back from one that has led meanwhile.
      etcd: {
        hosts: plan.nodes.map(({ host, etcdPort }) => `${host}:${etcdPort}`),
        ...(tls ? { protocol: "https", cacert: tls.ca, cert: tls.cert, key: tls.key } : {}),
      },
      ...(tls ? { ctl: { cacert: tls.ca, certfile: tls.cert, keyfile: tls.key } } : {}),
      bootstrap: {
        dcs,
        initdb: [
          { encoding: "UTF8" },
          { locale: "C.UTF-8" },
          "data-checksums",
          { "auth-host": "scram-sha-256" },
        ],
      },
      postgresql: {
        listen: `${node.host}:${node.postgresPort}`,
        connect_address: `${node.host}:${node.postgresPort}`,
        data_dir: join(place, "data"),
        bin_dir: postgresPrograms(),
        pgpass: join(place, "pgpass"),
        authentication: {
          superuser: { username: SUPERUSER, password: secrets[SUPERUSER], ...verified(tls) },
          replication: { username: REPLICA, password: secrets[REPLICA], ...verified(tls) },
        },
        basebackup: [{ checkpoint: "fast" }],
        remove_data_directory_on_diverged_timelines: true,
        ...(tls
          ? { parameters: { ssl: "on", ssl_cert_file: tls.cert, ssl_key_file: tls.key, ssl_ca_file: tls.ca } }
          : {}),
        pg_hba: networks.flatMap((network) => [
          `${kind} all all ${network} scram-sha-256`,
          `${kind} replication ${REPLICA} ${network} scram-sha-256`,
        ]),
      },
      watchdog: {
        mode: plan.watchdog ?? (tls ? "required" : "automatic"),
        device: "/dev/watchdog",
        safety_margin: 2,
      },
      log: { level: "INFO", dir: join(place, "log"), file_size: 5_000_000, file_num: 3 },
      tags: {},
    },
    null,
    2,
  );
}

/** haproxy's file: pages to whichever web server lives, writes to whichever node leads. */
export function proxyFile(plan) {
  const { proxy, nodes, web, tls } = plan;
  const check = tls ? ` check-ssl verify required ca-file ${tls.ca}` : "";
  const servers = nodes
    .map(
      ({ name, host, postgresPort, patroniPort }) =>
        `  server ${name} ${host}:${postgresPort} check port ${patroniPort}${check}`,
    )
    .join("\n");
  return `global
  maxconn 4000
  stats socket ${join(plan.folder, "proxy.sock")} mode 600 level admin

defaults
  mode tcp
  option tcpka
  timeout connect 3s
  timeout client 120s
  timeout server 120s
  timeout check 2s

# Whoever leads takes writes; connections to one that no longer does are cut, so that nobody writes into the void.
listen leader
  bind ${proxy.host}:${proxy.leader}
  option httpchk OPTIONS /primary
  http-check expect status 200
  default-server inter 500ms fastinter 250ms fall 2 rise 1 on-marked-down shutdown-sessions
${servers}

listen replicas
  bind ${proxy.host}:${proxy.replicas}
  option httpchk OPTIONS /replica
  http-check expect status 200
  balance leastconn
  default-server inter 1s fall 2 rise 2 on-marked-down shutdown-sessions
${servers}

# By /health, not by /ready: while the database changes hands every web server is unready at once, and none is at fault.
frontend pages
  mode http
  bind ${proxy.host}:${proxy.web}
  option forwardfor
  unique-id-format %{+X}o%ci-%cp-%Ts-%rt
  http-request set-header X-Request-Id %[unique-id]
  default_backend web

backend web
  mode http
  balance leastconn
  option httpchk
  http-check send meth GET uri /health ver HTTP/1.1 hdr Host pelagon
  http-check expect status 200
  retries 2
  option redispatch 1
  retry-on conn-failure empty-response
  # A write that may have arrived is not sent twice by the proxy: its sender knows whether it may.
  http-request disable-l7-retry unless { method GET HEAD }
  default-server inter 500ms fastinter 250ms fall 2 rise 1
${web.map(({ name, host, port }) => `  server ${name} ${host}:${port} check`).join("\n")}

listen figures
  mode http
  bind 127.0.0.1:${proxy.figures}
  stats enable
  stats uri /
  http-request use-service prometheus-exporter if { path /metrics }
`;
}

/** What a web server is told. */
export function webEnvironment(plan, web, secrets) {
  const { proxy, tls } = plan;
  // haproxy passes the database's TLS on as it is: the node's certificate names haproxy's address, too.
  const safely = tls ? `?sslmode=verify-full&sslrootcert=${encodeURIComponent(tls.ca)}` : "";
  const address = (role, port) =>
    `postgres://${role}:${encodeURIComponent(secrets[role])}@${proxy.host}:${port}/${OWNER}${safely}`;
  return {
    DATABASE_URL: address(WEB, proxy.leader),
    DATABASE_REPLICA_URL: address(WEB, proxy.replicas),
    DATABASE_OWNER_URL: address(OWNER, proxy.leader),
    HOST: web.host,
    PORT: `${web.port}`,
    METRICS_PORT: `${web.metricsPort}`,
    TRUSTED_PROXIES: proxy.host,
    DRAIN: "2",
    LOG_LEVEL: process.env.LOG_LEVEL ?? "warn",
    PELAGON_DEMO: process.env.PELAGON_DEMO ?? "0",
    NODE_ENV: "production",
  };
}
