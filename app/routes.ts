import { index, layout, type RouteConfig, route } from "@react-router/dev/routes";

export default [
  route("sign-in", "routes/sign-in/route.tsx"),
  route("sign-out", "routes/sign-out/route.ts"),
  route("health", "routes/health/route.ts"),
  layout("routes/signed-in/layout.tsx", [
    index("routes/round/route.tsx"),
    route("basins", "routes/basins/route.tsx"),
    route("basins/:basinId", "routes/basin/route.tsx"),
    route("settings", "routes/settings/route.tsx"),
    route("visits/:visitId/counts", "routes/visit/counts.ts"),
    route("visits/:visitId", "routes/visit/layout.tsx", [
      index("routes/visit/sheet.tsx"),
      route("judge", "routes/visit/judge.tsx"),
      route("dose", "routes/visit/dose.tsx"),
      route("close", "routes/visit/close.tsx"),
      route(":station", "routes/visit/station.tsx"),
    ]),
  ]),
  route("*", "routes/not-found/route.tsx"),
] satisfies RouteConfig;
