import { createRequire } from "node:module";
import { Document, Font, Page, renderToBuffer, StyleSheet, Text, View } from "@react-pdf/renderer";
import type { CustomerSheet } from "#server/visits/customer-sheet";
import { told } from "../ui/paper";
import { words } from "../words";

/** The customer's sheet as a PDF: A4, one page, the application's own typeface embedded. */

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

const styles = StyleSheet.create({
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
  bold: { fontWeight: 700 },
  soft: { color: "#4b453a" },
  footer: { position: "absolute", bottom: 30, left: 48, right: 48, fontSize: 8, color: "#4b453a" },
});

const COLUMNS = ["38%", "22%", "24%", "16%"].map((width) => ({ width }));

function Row({ cells, head = false }: { cells: [string, string, string, string]; head?: boolean }) {
  return (
    <View style={styles.row}>
      {cells.map((cell, index) => (
        <Text
          // biome-ignore lint/suspicious/noArrayIndexKey: four columns, always the same
          key={index}
          style={[COLUMNS[index] ?? {}, head ? styles.soft : index === 1 ? styles.bold : {}]}
        >
          {cell}
        </Text>
      ))}
    </View>
  );
}

function Sheet({ sheet }: { sheet: CustomerSheet }) {
  const said = words.customer;
  const text = told(sheet);
  return (
    <Document title={`${said.title(text.title)}, ${text.by}`} author={sheet.firm.name} language="en">
      <Page size="A4" style={styles.page}>
        <View style={styles.head}>
          <Text style={styles.bold}>{sheet.firm.name}</Text>
          <Text style={styles.title}>{text.title}</Text>
          <Text>{text.where}</Text>
          <Text style={styles.soft}>{text.by}</Text>
        </View>
        <Text style={styles.heading}>{said.swimTitle}</Text>
        <Text style={text.isShut ? styles.closed : {}}>{[text.swim, ...text.reasons].join(" ")}</Text>
        {text.urgent.map((line) => (
          <Text key={line} style={styles.bold}>
            {line}
          </Text>
        ))}
        <Text style={styles.heading}>{said.tested}</Text>
        <Row head cells={[words.visit.test, said.reading, said.should, ""]} />
        {text.readings.map((row) => (
          <Row key={row.name} cells={[row.name, row.value, row.should, row.place]} />
        ))}
        <Text style={styles.heading}>{said.given}</Text>
        {text.given.length === 0 ? <Text>{said.givenNone}</Text> : null}
        {text.given.map((line, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same amount may have been given twice
          <Text key={index}>{line}</Text>
        ))}
        <Text style={styles.heading}>{said.todo}</Text>
        {text.todo.map((line) => (
          <Text key={line}>{line}</Text>
        ))}
        {text.note ? <Text style={styles.heading}>{said.note}</Text> : null}
        {text.note ? <Text>{text.note}</Text> : null}
        {text.next ? <Text style={styles.heading}>{text.next}</Text> : null}
        <Text style={styles.footer}>{text.footer}</Text>
      </Page>
    </Document>
  );
}

/** The bytes of the file. */
export async function pdfOf(sheet: CustomerSheet): Promise<Uint8Array> {
  return new Uint8Array(await renderToBuffer(<Sheet sheet={sheet} />));
}
