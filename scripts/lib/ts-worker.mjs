// Starts a worker thread on a TypeScript file: workerData.script is its address.
import { workerData } from "node:worker_threads";
import { register } from "tsx/esm/api";

register();
await import(workerData.script);
