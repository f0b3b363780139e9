import { apiAnswer } from "../../api/answer";
import type { Route } from "./+types/v1";

/** The interface for programs: one table of operations behind one address, see `app/api`. */
export const loader = ({ request, context }: Route.LoaderArgs) => apiAnswer(request, context);

export const action = ({ request, context }: Route.ActionArgs) => apiAnswer(request, context);
