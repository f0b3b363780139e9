import { QUANTITY_NAMES } from "#core";
import { DeviceFault, lookAt, readFrom } from "#server/devices/photometer";
import { attempt, notFound, servicesContext } from "../../context";
import { formBody } from "../../request";
import type { Route } from "./+types/route";

/** The photometers that this server was told of, each asked what it is. */
export async function loader({ context }: Route.LoaderArgs) {
  const { photometers } = context.get(servicesContext);
  return { devices: await Promise.all(photometers.map((address) => lookAt(address, 2000))) };
}

/** Takes one reading. Only an address of the configuration is asked, whatever the page sends. */
export async function action({ request, context }: Route.ActionArgs) {
  return attempt(async () => {
    const form = await formBody(request);
    const address = context.get(servicesContext).photometers.find((known) => known === form.get("address"));
    const quantity = QUANTITY_NAMES.find((name) => name === form.get("quantity"));
    if (!address || !quantity) return notFound();
    try {
      return { reading: await readFrom(address, quantity) };
    } catch (fault) {
      if (fault instanceof DeviceFault) return { trouble: fault.trouble };
      throw fault;
    }
  });
}
