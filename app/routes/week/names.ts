import type { WorkersWeek } from "../../pages/week.server";
import { type WeekNames, words } from "../../words";

/** What the basins and the people of a week are called. */
export function namesOf({ basins, members }: Pick<WorkersWeek, "basins" | "members">): WeekNames {
  const basinNames = new Map(basins.map(({ id, site, name }) => [id, `${site}, ${name}`]));
  const people = new Map(members.map(({ id, name }) => [id, name]));
  return {
    basin: (id) => basinNames.get(id) ?? "",
    who: (id) => people.get(id) ?? words.week.anybody,
  };
}
