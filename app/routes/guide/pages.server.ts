import { Marked } from "marked";

/** The guide as it lies in docs/guide, one folder a language, with its pictures; built into the server. */

const TEXTS = import.meta.glob<string>("../../../docs/guide/*/*.md", {
  query: "?raw",
  import: "default",
  eager: true,
});
const PICTURES = import.meta.glob<string>("../../../docs/screenshots/*.png", {
  query: "?url",
  import: "default",
  eager: true,
});

export interface GuidePage {
  /** In the address: "3-at-the-water". */
  name: string;
  title: string;
  html: string;
}

const pictureAt = (path: string): string =>
  PICTURES[path.replace(/^\.\.\/\.\.\/screenshots\//, "../../../docs/screenshots/")] ?? path;

/** Pictures are those of the build, and a link from page to page goes without the file's ending. */
const marked = new Marked({
  walkTokens(token) {
    if (token.type === "image") token.href = pictureAt(token.href);
    else if (token.type === "link") token.href = token.href.replace(/^([\w-]+)\.md$/, "/guide/$1");
  },
});

function pageFrom(path: string, text: string): GuidePage {
  const name = /([^/]+)\.md$/.exec(path)?.[1] ?? "";
  const title = /^# (.+)$/m.exec(text)?.[1] ?? name;
  return { name, title, html: marked.parse(text, { async: false }) };
}

const GUIDES = new Map<string, GuidePage[]>();
for (const [path, text] of Object.entries(TEXTS)) {
  const language = /\/([\w-]+)\/[^/]+$/.exec(path)?.[1] ?? "";
  GUIDES.set(language, [...(GUIDES.get(language) ?? []), pageFrom(path, text)]);
}
for (const pages of GUIDES.values()) pages.sort((a, b) => a.name.localeCompare(b.name));

/** Its pages in their order; in English where a language has none. @param language "es", "en-GB" */
export const guideIn = (language: string): readonly GuidePage[] =>
  GUIDES.get(language) ?? GUIDES.get(language.split("-")[0] ?? "") ?? GUIDES.get("en") ?? [];
