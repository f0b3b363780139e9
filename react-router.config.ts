import type { Config } from "@react-router/dev/config";

export default {
  ssr: true,
  // All routes are known from the start: one that is looked up when it is gone to is out of reach without a network.
  routeDiscovery: { mode: "initial" },
  future: { v8_middleware: true },
} satisfies Config;
