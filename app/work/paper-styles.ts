import { createRequire } from "node:module";
import { Font, StyleSheet } from "@react-pdf/renderer";

/** What every paper looks like: A4, the application's own typeface embedded. */

const FILES = createRequire(import.meta.url).resolve("@fontsource/atkinson-hyperlegible-next/400.css");
const fontFile = (subset: string, weight: number) =>
  FILES.replace(/400\.css$/, `files/atkinson-hyperlegible-next-${subset}-${weight}-normal.woff`);

for (const subset of ["latin", "latin-ext"])
  Font.register({
    family: subset,
    fonts: [400, 700].map((fontWeight) => ({ src: fontFile(subset, fontWeight), fontWeight })),
  });
// Words stay whole.
Font.registerHyphenationCallback((word) => [word]);

export const paperStyles = StyleSheet.create({
  page: {
    fontFamily: ["latin", "latin-ext"],
    fontSize: 10.5,
    padding: 48,
    color: "#1f1b15",
    lineHeight: 1.35,
  },
  head: { borderBottomWidth: 1.5, borderColor: "#1f1b15", paddingBottom: 6, marginBottom: 12 },
  title: { fontSize: 20, fontWeight: 700, lineHeight: 1.2 },
  heading: { fontSize: 12.5, fontWeight: 700, marginTop: 12, marginBottom: 3 },
  row: { flexDirection: "row", borderBottomWidth: 0.5, borderColor: "#cfc4aa", paddingVertical: 3 },
  closed: { borderLeftWidth: 3, borderColor: "#84191b", paddingLeft: 8, color: "#84191b", fontWeight: 700 },
  warned: { borderLeftWidth: 3, borderColor: "#84191b", paddingLeft: 8 },
  pictures: { flexDirection: "row", flexWrap: "wrap", gap: 8 },
  picture: { width: 240, height: 180, objectFit: "contain", objectPosition: "left top" },
  bold: { fontWeight: 700 },
  soft: { color: "#4b453a" },
  footer: { position: "absolute", bottom: 30, left: 48, right: 48, fontSize: 8, color: "#4b453a" },
});
