export * from "./en";
