import { Document, Image, Page, renderToBuffer, Text, View } from "@react-pdf/renderer";
import type { CustomerSheet } from "#server/visits/customer-sheet";
import { told } from "../ui/paper";
import { listText } from "../words";
import { paperStyles as styles } from "./paper-styles";

/** The customer's sheet as a PDF: A4, one page, the application's own typeface embedded. */

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

interface Props {
  sheet: CustomerSheet;
  /** JPEGs that were chosen for the customer. */
  pictures: readonly Uint8Array[];
}

function Sheet({ sheet, pictures }: Props) {
  const text = told(sheet);
  const { headings } = text;
  return (
    <Document title={`${headings.document}, ${text.by}`} author={text.firm} language={text.locale}>
      <Page size="A4" style={styles.page}>
        <View style={styles.head}>
          <Text style={styles.bold}>{text.firm}</Text>
          <Text style={styles.title}>{text.title}</Text>
          <Text>{text.where}</Text>
          <Text style={styles.soft}>{text.by}</Text>
        </View>
        <Text style={styles.heading}>{headings.swim}</Text>
        <Text style={text.isShut ? styles.closed : {}}>{[text.swim, ...text.reasons].join(" ")}</Text>
        {text.urgent.map((line) => (
          <Text key={line} style={styles.bold}>
            {line}
          </Text>
        ))}
        <Text style={styles.heading}>{headings.tested}</Text>
        {text.untested ? <Text>{text.untested}</Text> : null}
        {text.untested ? null : <Row head cells={[headings.test, headings.reading, headings.should, ""]} />}
        {text.readings.map((row) => (
          <Row key={row.name} cells={[row.name, row.value, row.should, row.place]} />
        ))}
        <Text style={styles.heading}>{headings.given}</Text>
        {text.given.length === 0 ? <Text>{headings.givenNone}</Text> : null}
        {text.given.map((line, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the same amount may have been given twice
          <Text key={index}>{line}</Text>
        ))}
        {text.work.length > 0 ? <Text style={styles.heading}>{headings.work}</Text> : null}
        {text.work.length > 0 ? <Text>{listText(text.work)}</Text> : null}
        <Text style={styles.heading}>{headings.todo}</Text>
        {text.todo.map((line) => (
          <Text key={line}>{line}</Text>
        ))}
        {text.note ? <Text style={styles.heading}>{headings.note}</Text> : null}
        {text.note ? <Text>{text.note}</Text> : null}
        {text.repairs.length > 0 ? <Text style={styles.heading}>{headings.repairs}</Text> : null}
        {text.repairs.map(({ title, quote }, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two may have one name
          <Text key={index}>{quote ? `${title}: ${quote.said}` : title}</Text>
        ))}
        {text.next ? <Text style={styles.heading}>{text.next}</Text> : null}
        {pictures.length > 0 ? <Text style={styles.heading}>{headings.photos}</Text> : null}
        <View style={styles.pictures}>
          {pictures.map((bytes, index) => (
            <Image
              // biome-ignore lint/suspicious/noArrayIndexKey: in the order in which they were taken
              key={index}
              style={styles.picture}
              src={{ data: Buffer.from(bytes), format: "jpg" }}
            />
          ))}
        </View>
        <Text style={styles.footer} fixed>
          {text.footer}
        </Text>
      </Page>
    </Document>
  );
}

/** The bytes of the file. */
export async function pdfOf(sheet: CustomerSheet, pictures: readonly Uint8Array[] = []): Promise<Uint8Array> {
  return new Uint8Array(await renderToBuffer(<Sheet sheet={sheet} pictures={pictures} />));
}
