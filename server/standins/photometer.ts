import { createServer as createHttp, type Server as HttpServer } from "node:http";
import { createServer as createTcp, type Server, type Socket } from "node:net";
import { normal, QUANTITIES, type Quantity, seeded } from "#core";

/**
 * A photometer that is not there: it answers as one would, with readings of a hidden water and their
 * noise. It speaks lines over TCP and the same over HTTP; `docs/photometer.md` says how.
 */

/** Waters that can be put into its cell. */
export const HIDDEN_WATERS = {
  balanced: {
    freeChlorine: 3.1,
    totalChlorine: 3.3,
    ph: 7.52,
    totalAlkalinity: 96,
    calciumHardness: 285,
    cyanuricAcid: 41,
  },
  stabilised: {
    freeChlorine: 2.2,
    totalChlorine: 2.6,
    ph: 7.74,
    totalAlkalinity: 118,
    calciumHardness: 310,
    cyanuricAcid: 132,
  },
  soft: {
    freeChlorine: 0.6,
    totalChlorine: 0.9,
    ph: 7.08,
    totalAlkalinity: 42,
    calciumHardness: 55,
    cyanuricAcid: 8,
  },
  shocked: {
    freeChlorine: 14.2,
    totalChlorine: 14.6,
    ph: 7.9,
    totalAlkalinity: 104,
    calciumHardness: 240,
    cyanuricAcid: 33,
  },
} as const satisfies Record<string, Partial<Record<Quantity, number>>>;

export type HiddenWater = keyof typeof HIDDEN_WATERS;

/** Noise of one reading, standard deviation as a share, and no less than this in its unit. */
const NOISE: Partial<Record<Quantity, { share: number; least: number }>> = {
  freeChlorine: { share: 0.015, least: 0.03 },
  totalChlorine: { share: 0.015, least: 0.03 },
  ph: { share: 0, least: 0.03 },
  totalAlkalinity: { share: 0.02, least: 2 },
  calciumHardness: { share: 0.03, least: 4 },
  cyanuricAcid: { share: 0.04, least: 2 },
};

/** How it misbehaves, to try what the bench makes of it. */
export type Fault = "none" | "silent" | "garbage" | "hang-up";

const MOST_LINE = 200;

export interface Photometer {
  tcpPort: number;
  httpPort: number;
  /** Puts another water into the cell. */
  fill(water: HiddenWater): void;
  misbehave(fault: Fault): void;
  stop(): Promise<void>;
}

/**
 * Starts it on loopback.
 * @param ports 0 for any free one
 */
export async function startPhotometer({
  serial = "SIM-0001",
  water = "balanced" as HiddenWater,
  seed = 1,
  ports = { tcp: 0, http: 0 },
} = {}): Promise<Photometer> {
  const random = seeded(seed);
  let cell: HiddenWater = water;
  let fault: Fault = "none";

  /** The answer to one line; lines are words separated by blanks. */
  function answer(line: string): string {
    const [command = "", argument = ""] = line.trim().split(/\s+/);
    const known: Partial<Record<Quantity, number>> = HIDDEN_WATERS[cell];
    switch (command.toUpperCase()) {
      case "ID":
        return `ID PHOTOMETER ${serial} 1`;
      case "LIST":
        return `LIST ${Object.keys(known).join(" ")}`;
      case "READ": {
        const quantity = argument as Quantity;
        const value = known[quantity];
        const noise = NOISE[quantity];
        if (value === undefined || !noise) return `ERROR unknown-quantity ${argument.slice(0, 40)}`;
        const read = value + normal(random) * Math.max(noise.least, noise.share * value);
        return `READING ${quantity} ${Math.max(0, read).toFixed(2)} ${QUANTITIES[quantity].unit}`;
      }
      default:
        return `ERROR unknown-command ${command.slice(0, 40)}`;
    }
  }

  const open = new Set<Socket>();
  const tcp = createTcp((socket) => {
    open.add(socket);
    socket.setEncoding("utf8");
    socket.on("close", () => open.delete(socket));
    socket.on("error", () => socket.destroy());
    let heard = "";
    socket.on("data", (part: string) => {
      heard += part;
      for (let end = heard.indexOf("\n"); end >= 0; end = heard.indexOf("\n")) {
        const line = heard.slice(0, end);
        heard = heard.slice(end + 1);
        const reads = line.trim().toUpperCase().startsWith("READ");
        if (fault === "silent" && reads) continue;
        if (fault === "hang-up" && reads) return socket.destroy();
        socket.write(fault === "garbage" && reads ? "\u0000\u00ff#%& 7,,x\n" : `${answer(line)}\n`);
      }
      if (heard.length > MOST_LINE) socket.destroy();
    });
  });

  const http = createHttp((request, response) => {
    const [, command = "", argument = ""] = (request.url ?? "").split("?")[0]?.split("/") ?? [];
    if (fault === "silent") return;
    if (fault === "hang-up") return void request.socket.destroy();
    const line = fault === "garbage" ? "7,,x" : answer(`${command} ${argument}`);
    response.writeHead(line.startsWith("ERROR") ? 404 : 200, { "Content-Type": "text/plain; charset=utf-8" });
    response.end(`${line}\n`);
  });

  await listen(tcp, ports.tcp);
  await listen(http, ports.http);
  return {
    tcpPort: portOf(tcp),
    httpPort: portOf(http),
    fill: (other) => {
      cell = other;
    },
    misbehave: (other) => {
      fault = other;
    },
    async stop() {
      for (const socket of open) socket.destroy();
      http.closeAllConnections();
      await Promise.all([tcp, http].map((server) => new Promise((done) => server.close(done))));
    },
  };
}

const listen = (server: Server | HttpServer, port: number): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once("error", reject);
    server.listen(port, "127.0.0.1", () => resolve());
  });

const portOf = (server: Server | HttpServer): number => {
  const address = server.address();
  return typeof address === "object" && address ? address.port : 0;
};
