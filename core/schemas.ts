/** Joi schemas of what crosses a boundary. Apart from index.ts so that a page does not carry Joi. */
export * from "./basin/access.schema";
export * from "./basin/shape.schema";
export * from "./check";
export * from "./ranges/range-set.schema";
export * from "./testing/kit.schema";
export * from "./testing/order/look.schema";
export * from "./uncertainty/job.schema";
export { COMMAND_SCHEMAS, givenAtSchema, testSchema } from "./visit/commands.schema";
export * from "./week/wishes.schema";
export * from "./work/work.schema";
