import { marked } from "marked";

/** The guide as it lies in docs/guide, with its pictures; built into the server. */

const TEXTS = import.meta.glob<string>("../../../docs/guide/*.md", {
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
  PICTURES[path.replace(/^\.\.\/screenshots\//, "../../../docs/screenshots/")] ?? path;

function pageFrom(path: string, text: string): GuidePage {
  const name = /([^/]+)\.md$/.exec(path)?.[1] ?? "";
  const title = /^# (.+)$/m.exec(text)?.[1] ?? name;
  const html = marked.parse(text, { async: false, gfm: true });
  // A link from page to page goes without the file's ending here.
  return {
    name,
    title,
    html: html
      .replace(/src="([^"]+)"/g, (_, source: string) => `src="${pictureAt(source)}" loading="lazy"`)
      .replace(/href="([\w-]+)\.md"/g, 'href="/guide/$1"'),
  };
}

/** In their order. */
export const GUIDE: readonly GuidePage[] = Object.entries(TEXTS)
  .map(([path, text]) => pageFrom(path, text))
  .sort((a, b) => a.name.localeCompare(b.name));
