import { redirect } from "react-router";

/**
 * The page that a device keeps for starting without a network: it has no data of its own, and at whatever
 * address it stands the router goes on there.
 */
export const clientLoader = () => redirect("/");

export default function Offline() {
  return null;
}
