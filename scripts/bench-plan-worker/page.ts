const worker = new Worker(new URL("./plans.worker.ts", import.meta.url), { type: "module" });
worker.addEventListener("message", ({ data }: MessageEvent<number[]>) => {
  Object.assign(window, { times: data });
});
