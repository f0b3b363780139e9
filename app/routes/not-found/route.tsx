import { data } from "react-router";
import { Trouble } from "../../ui/trouble";

export const loader = () => data(null, { status: 404 });

export default function NotFound() {
  return <Trouble status={404} />;
}
