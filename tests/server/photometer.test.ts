import { createServer } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { DeviceFault, lookAt, readFrom } from "#server/devices/photometer";
import { HIDDEN_WATERS, type Photometer, startPhotometer } from "#server/standins/photometer";

let device: Photometer;
let tcp: string;
let http: string;
beforeAll(async () => {
  device = await startPhotometer({ seed: 7 });
  tcp = `tcp://127.0.0.1:${device.tcpPort}`;
  http = `http://127.0.0.1:${device.httpPort}`;
});
afterAll(() => device.stop());

const WAIT = 400;
const trouble = (address: string) =>
  readFrom(address, "freeChlorine", WAIT).then(
    (reading) => reading,
    (fault: unknown) => (fault instanceof DeviceFault ? fault.trouble : fault),
  );

describe("a photometer", () => {
  it("says what it is, over lines and over HTTP", async () => {
    const known = Object.keys(HIDDEN_WATERS.balanced);
    expect(await lookAt(tcp)).toEqual({ address: tcp, serial: "SIM-0001", quantities: known });
    expect(await lookAt(http)).toEqual({ address: http, serial: "SIM-0001", quantities: known });
    expect(await lookAt("tcp://127.0.0.1:1", WAIT)).toMatchObject({ serial: null });
  });

  it("reads its hidden water with noise around it", async () => {
    device.fill("stabilised");
    const read: number[] = [];
    for (let time = 0; time < 40; time++)
      read.push((await readFrom(time % 2 ? tcp : http, "cyanuricAcid")).value);
    const mean = read.reduce((sum, value) => sum + value, 0) / read.length;
    // 4 % of 132 is 5.3; of the mean of 40, 0.8
    expect(Math.abs(mean - 132)).toBeLessThan(4);
    expect(new Set(read).size).toBeGreaterThan(10);
    device.fill("balanced");
    expect((await readFrom(tcp, "ph")).value).toBeCloseTo(7.52, 0);
    await expect(readFrom(tcp, "salt")).rejects.toThrow("cannot-read");
  });

  it.each([
    ["silent", "time-out", "time-out"],
    ["garbage", "garbage", "garbage"],
    ["hang-up", "gone", "refused"],
  ] as const)("that is %s is reported so", async (fault, byLines, byHttp) => {
    device.misbehave(fault);
    expect(await trouble(tcp)).toBe(byLines);
    // Over HTTP every question is answered the same way, the first one too.
    expect(await trouble(http)).toBe(fault === "garbage" ? "garbage" : byHttp);
    device.misbehave("none");
    expect(await trouble(tcp)).toMatchObject({ serial: "SIM-0001" });
  });

  it("is not believed when its answer is no reading of what was asked", async () => {
    const answers = [
      "READING ph 7.4 pH",
      "READING freeChlorine 1e9 mg/L",
      "READING freeChlorine -3 mg/L",
      "READING freeChlorine  mg/L",
      "READING freeChlorine 2.1 ppb",
      "x".repeat(1000),
    ];
    for (const line of answers) {
      const server = createServer((socket) => {
        socket.on("error", () => {});
        socket.on("data", (asked) => {
          const word = String(asked).trim();
          socket.write(
            word === "ID" ? "ID PHOTOMETER X 1\n" : word === "LIST" ? "LIST freeChlorine\n" : `${line}\n`,
          );
        });
      });
      await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
      const { port } = server.address() as { port: number };
      expect(await trouble(`tcp://127.0.0.1:${port}`), line.slice(0, 40)).toBe("garbage");
      server.close();
    }
  });
});
