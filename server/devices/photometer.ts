import { connect } from "node:net";
import { QUANTITIES, type Quantity } from "#core";

/** A photometer as configured: "tcp://127.0.0.1:4391" or "http://127.0.0.1:4392". */
export type DeviceAddress = string;

export interface Device {
  address: DeviceAddress;
  /** Serial number; null when it does not answer. */
  serial: string | null;
  /** What it can read. */
  quantities: Quantity[];
}

export interface DeviceReading {
  serial: string;
  quantity: Quantity;
  value: number;
}

/** Why a device gave nothing. The page keeps what it had and says which. */
export type DeviceTrouble = "time-out" | "gone" | "garbage" | "refused" | "cannot-read";

export class DeviceFault extends Error {
  constructor(readonly trouble: DeviceTrouble) {
    super(trouble);
  }
}

const WAIT_MS = 4000;
const MOST_LINE = 400;

/** Asks one line; answers with the line that comes back. */
function ask(address: DeviceAddress, line: string, wait: number): Promise<string> {
  return address.startsWith("http:") ? askHttp(address, line, wait) : askTcp(address, line, wait);
}

function askTcp(address: DeviceAddress, line: string, wait: number): Promise<string> {
  const { hostname, port } = new URL(address);
  return new Promise((resolve, reject) => {
    const socket = connect({ host: hostname, port: Number(port) });
    let heard = "";
    let connected = false;
    const end = (work: () => void) => {
      clearTimeout(timer);
      socket.destroy();
      work();
    };
    const fail = (trouble: DeviceTrouble) => end(() => reject(new DeviceFault(trouble)));
    const timer = setTimeout(() => fail("time-out"), wait);
    socket.setEncoding("utf8");
    socket.on("connect", () => {
      connected = true;
      socket.write(`${line}\n`);
    });
    socket.on("data", (part: string) => {
      heard += part;
      const at = heard.indexOf("\n");
      if (at >= 0) end(() => resolve(heard.slice(0, at).trim()));
      else if (heard.length > MOST_LINE) fail("garbage");
    });
    socket.on("error", () => fail(connected ? "gone" : "refused"));
    socket.on("close", () => fail("gone"));
  });
}

async function askHttp(address: DeviceAddress, line: string, wait: number): Promise<string> {
  const url = new URL(
    line.toLowerCase().startsWith("read ") ? `/read/${line.slice(5)}` : `/${line}`,
    address,
  );
  try {
    const answer = await fetch(url, { signal: AbortSignal.timeout(wait) });
    return (await answer.text()).slice(0, MOST_LINE).trim();
  } catch (fault) {
    if (fault instanceof DOMException && fault.name === "TimeoutError") throw new DeviceFault("time-out");
    throw new DeviceFault("refused");
  }
}

const isQuantity = (name: string): name is Quantity => Object.hasOwn(QUANTITIES, name);

/** What stands at an address; one that does not answer is listed without a serial number. */
export async function lookAt(address: DeviceAddress, wait = WAIT_MS): Promise<Device> {
  try {
    const [word, kind, serial] = (await ask(address, "ID", wait)).split(" ");
    if (word !== "ID" || kind !== "PHOTOMETER" || !serial) throw new DeviceFault("garbage");
    const [list, ...names] = (await ask(address, "LIST", wait)).split(" ");
    return { address, serial, quantities: list === "LIST" ? names.filter(isQuantity) : [] };
  } catch (fault) {
    if (fault instanceof DeviceFault) return { address, serial: null, quantities: [] };
    throw fault;
  }
}

/**
 * One reading from a device.
 * @throws DeviceFault with what went wrong; what it sent is checked like anything from outside
 */
export async function readFrom(
  address: DeviceAddress,
  quantity: Quantity,
  wait = WAIT_MS,
): Promise<DeviceReading> {
  const { serial } = await lookAt(address, wait);
  const line = await ask(address, `READ ${quantity}`, wait);
  if (line.startsWith("ERROR")) throw new DeviceFault("cannot-read");
  const [word, name, figure, unit] = line.split(" ");
  const value = Number(figure);
  const { low, high, unit: wanted } = QUANTITIES[quantity];
  const sane =
    word === "READING" && name === quantity && unit === wanted && figure !== "" && Number.isFinite(value);
  if (!sane || value < low || value > high || !serial) throw new DeviceFault("garbage");
  return { serial, quantity, value };
}
