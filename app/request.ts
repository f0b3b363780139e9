import { InputFault } from "#core";

/** What a request carries, read in one way everywhere: text that can be kept, and nothing too deep to look at. */

/** No form of ours nests its JSON deeper: lists of rows of fields of a range. */
const DEEPEST = 24;

/** Text that no table can hold: NUL, and halves of a character that stand alone. */
const UNKEEPABLE = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

function checkedText(field: string, text: string): void {
  if (UNKEEPABLE.test(text))
    throw new InputFault(
      "malformed",
      field,
      text.replace(new RegExp(UNKEEPABLE, "g"), "\ufffd").slice(0, 80),
    );
}

/** Every text in a value, names of fields too; a loop and no recursion, so that no depth stops it. */
function checkedTexts(value: unknown): void {
  const ahead = [{ value, path: "body", depth: 0 }];
  for (let next = ahead.pop(); next; next = ahead.pop()) {
    if (typeof next.value === "string") checkedText(next.path, next.value);
    if (next.value === null || typeof next.value !== "object") continue;
    if (next.depth >= DEEPEST) throw new InputFault("too-high", "nesting", next.depth + 1, DEEPEST);
    for (const [name, one] of Object.entries(next.value)) {
      checkedText(next.path, name);
      const path = next.depth === 0 ? name : `${next.path}.${name}`;
      ahead.push({ value: one, path, depth: next.depth + 1 });
    }
  }
}

/**
 * The JSON of a request; what it holds is for a schema to check.
 * @throws InputFault where it is none, is nested too deep, or holds text that cannot be kept
 */
export async function jsonBody(request: Request): Promise<unknown> {
  return jsonOf(await request.text(), "body");
}

/** JSON that came as text in a field. */
export function jsonOf(text: string, field: string): unknown {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new InputFault("malformed", field, text.slice(0, 80), "JSON");
  }
  checkedTexts(value);
  return value;
}

/** The fields of an object; of anything else, none. */
export const fieldsOf = (body: unknown): Record<string, unknown> =>
  body !== null && typeof body === "object" && !Array.isArray(body) ? (body as Record<string, unknown>) : {};

/** The fields of a JSON object; of anything else, none. */
export const jsonFields = async (request: Request): Promise<Record<string, unknown>> =>
  fieldsOf(await jsonBody(request));

/**
 * The form of a request.
 * @throws InputFault where it is none, or holds text that cannot be kept
 */
export async function formBody(request: Request): Promise<FormData> {
  const form = await request.formData().catch(() => {
    throw new InputFault("malformed", "body", request.headers.get("Content-Type")?.slice(0, 80), "a form");
  });
  for (const [name, value] of form) {
    checkedText("body", name);
    if (typeof value === "string") checkedText(name, value);
  }
  return form;
}

/** What a page sent, as JSON or as a form of texts. */
export async function anyBody(request: Request): Promise<unknown> {
  const type = request.headers.get("Content-Type") ?? "";
  if (type.startsWith("application/json")) return jsonBody(request);
  const form = await formBody(request);
  return Object.fromEntries([...form].filter(([, value]) => typeof value === "string"));
}

/** A text field of a form, "" where it is missing or a file. */
export function textOf(form: FormData, name: string): string {
  const value = form.get(name);
  return typeof value === "string" ? value : "";
}

/** One cookie's value out of the request's header; null when it is missing or cannot be read. */
export function cookie(request: Request, name: string): string | null {
  const header = request.headers.get("Cookie") ?? "";
  const found = header.split(/;\s*/).find((part) => part.startsWith(`${name}=`));
  try {
    return found ? decodeURIComponent(found.slice(name.length + 1)) : null;
  } catch {
    return null;
  }
}

/** The loader of an address that is only written to: whoever opens it in a browser is told so. */
export function onlyPosted(): never {
  throw new Response("This address takes a POST and nothing else.", {
    status: 405,
    headers: { Allow: "POST" },
  });
}
