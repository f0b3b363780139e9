import { useRouteLoaderData } from "react-router";
import type { homePage } from "../pages/home.server";
import { moneyText } from "./format";

/** Units and time zone of the firm whose page this is. */
export function useFirm() {
  const found = useRouteLoaderData<typeof homePage>("routes/signed-in/layout");
  if (!found) throw new Error("useFirm is for pages behind the sign-in");
  return found;
}

/** Writes money in the firm's currency. */
export function useMoney(): (amount: number) => string {
  const { currency } = useFirm();
  return (amount) => moneyText(amount, currency);
}
