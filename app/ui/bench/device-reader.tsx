import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import type { Quantity } from "#core";
import type { Device, DeviceReading, DeviceTrouble } from "#server/devices/photometer";
import { words } from "../../words";
import { Button } from "../button";

export type DeviceAnswer = { reading: DeviceReading } | { trouble: DeviceTrouble };

/** Takes a reading from a photometer nearby. What stood on the page stays when it gives none. */
export function DeviceReader({ quantity, take }: { quantity: Quantity; take: (value: number) => void }) {
  const list = useFetcher<{ devices: Device[] }>();
  const reader = useFetcher<DeviceAnswer>();
  const heard = reader.data;
  const taken = useRef<DeviceAnswer | undefined>(undefined);
  const { load } = list;
  useEffect(() => {
    void load("/devices");
  }, [load]);
  useEffect(() => {
    if (!heard || heard === taken.current) return;
    taken.current = heard;
    if ("reading" in heard) take(heard.reading.value);
  }, [heard, take]);
  const devices = list.data?.devices ?? [];
  const busy = reader.state !== "idle";
  return (
    <fieldset className="grid gap-2 border-t border-rule pt-3">
      <legend className="float-left w-full font-medium">{words.device.title}</legend>
      {list.data && devices.length === 0 ? <p className="text-soft">{words.device.none}</p> : null}
      {devices.map((device) => {
        const can = device.serial !== null && device.quantities.includes(quantity);
        return (
          <div key={device.address} className="flex flex-wrap items-center justify-between gap-2">
            <span>
              {device.serial ?? words.device.silent}
              <span className="block text-sm text-soft">
                {device.address}
                {device.serial && !can ? ` · ${words.device.cannot}` : ""}
              </span>
            </span>
            <Button
              type="button"
              quiet
              busy={busy}
              disabled={!can}
              onClick={() =>
                reader.submit({ address: device.address, quantity }, { method: "post", action: "/devices" })
              }
            >
              {busy ? words.device.waiting : words.device.read}
            </Button>
          </div>
        );
      })}
      {heard ? (
        <p role="status" className={"trouble" in heard ? "font-medium text-below" : "text-soft"}>
          {"trouble" in heard
            ? words.device.troubles[heard.trouble]
            : words.device.came({ serial: heard.reading.serial })}
        </p>
      ) : null}
    </fieldset>
  );
}
