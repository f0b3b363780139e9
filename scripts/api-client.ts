/**
 * npm run api-client: writes the types of the HTTP interface from its own OpenAPI document, for the small client in
 * api-client/. They are made, not kept: a document that has changed makes others.
 */
import { writeFileSync } from "node:fs";
import openapiTS, { astToString } from "openapi-typescript";
import { openApiDocument } from "../app/api/openapi";
import { LANGUAGES } from "../app/messages/compiled/all";
import { speak } from "../app/words";

const english = LANGUAGES.en;
if (!english) throw new Error("The messages are not compiled: npm run messages");
speak(() => english);
const document = JSON.parse(JSON.stringify(openApiDocument()));
const types = astToString(await openapiTS(document));
const file = new URL("../api-client/schema.d.ts", import.meta.url);
writeFileSync(file, `// Made by npm run api-client.\n${types}`);
console.log(`${file.pathname}: ${Object.keys(document.paths).length} addresses`);
