import type { Route } from "./+types/month-json";
import { monthFile } from "./month-file";

export const loader = (asked: Route.LoaderArgs) =>
  monthFile(asked, {
    kind: "json",
    type: "application/json",
    text: (accounts) => `${JSON.stringify(accounts)}\n`,
  });
