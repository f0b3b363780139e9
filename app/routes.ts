import { index, layout, type RouteConfig, route } from "@react-router/dev/routes";

export default [
  route("sign-in", "routes/sign-in/route.tsx"),
  route("sign-out", "routes/sign-out/route.ts"),
  route("health", "routes/health/route.ts"),
  route("schemas/kit.json", "routes/schemas/kit.ts"),
  route("bench", "routes/bench/route.tsx"),
  route("bench/attach", "routes/bench/attach.ts"),
  layout("routes/signed-in/layout.tsx", [
    index("routes/round/route.tsx"),
    route("basins", "routes/basins/route.tsx"),
    route("basins/:basinId", "routes/basin/route.tsx"),
    route("shelf", "routes/shelf/layout.tsx", [
      index("routes/shelf/reagents.tsx"),
      route("kits", "routes/shelf/kits.tsx"),
    ]),
    route("shelf/kits/:kitId", "routes/shelf/kit.tsx"),
    route("shelf/kits/:kitId/export", "routes/shelf/export.ts"),
    route("settings", "routes/settings/route.tsx"),
    route("devices", "routes/devices/route.ts"),
    route("visits/:visitId/counts", "routes/visit/counts.ts"),
    route("visits/:visitId/photos", "routes/visit/photos.ts"),
    route("visits/:visitId/photos/:photoId", "routes/visit/photo.ts"),
    route("visits/:visitId", "routes/visit/layout.tsx", [
      index("routes/visit/sheet.tsx"),
      route("look", "routes/visit/look.tsx"),
      route("sample", "routes/visit/sample.tsx"),
      route("judge", "routes/visit/judge.tsx"),
      route("dose", "routes/visit/dose.tsx"),
      route("close", "routes/visit/close.tsx"),
      route(":station", "routes/visit/station.tsx"),
    ]),
  ]),
  route("*", "routes/not-found/route.tsx"),
] satisfies RouteConfig;
