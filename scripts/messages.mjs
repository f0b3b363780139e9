// npm run messages: the messages of every language, from app/messages to app/messages/compiled.
import { join } from "node:path";
import { compileMessages } from "./lib/messages.mjs";
import { ROOT } from "./lib/provision.mjs";
import { main } from "./lib/terminal.mjs";

main(async () => compileMessages(join(ROOT, "app", "messages")));
