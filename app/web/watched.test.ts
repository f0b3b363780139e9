import { expect, it } from "vitest";
import { routeNamer } from "./watched";

const route = (id: string, parentId: string | undefined, path?: string) => ({ id, parentId, path });
const nameOf = routeNamer(
  Object.fromEntries(
    [
      route("root", undefined),
      route("in", "root"),
      route("home", "in"),
      route("basins", "in", "basins"),
      route("basin", "in", "basins/:basinId"),
      route("new", "in", "basins/new"),
      route("visit", "in", "visits/:visitId"),
      route("station", "visit", ":station"),
      route("dose", "visit", "dose"),
      route("guide", "root", "guide/:page?"),
      route("pdf", "root", "s/:token/sheet.pdf"),
      route("rest", "root", "*"),
    ].map((one) => [one.id, one]),
  ) as unknown as Parameters<typeof routeNamer>[0],
);

it.each([
  ["/", "/"],
  ["/_root.data", "/"],
  ["/basins", "/basins"],
  ["/basins/", "/basins"],
  ["/basins.data", "/basins"],
  ["/basins/new", "/basins/new"],
  ["/basins/019a.data", "/basins/:basinId"],
  ["/visits/1/dose", "/visits/:visitId/dose"],
  ["/visits/1/ph", "/visits/:visitId/:station"],
  ["/guide", "/guide/:page?"],
  ["/guide/", "/guide/:page?"],
  ["/guide/2-the-morning", "/guide/:page?"],
  ["/s/abc/sheet.pdf", "/s/:token/sheet.pdf"],
  ["/s/abc/sheetxpdf", "none"],
  ["/wp-login.php", "none"],
])("%s is of %s", (path, pattern) => expect(nameOf(path)).toBe(pattern));
