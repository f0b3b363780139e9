import { Document, Page, renderToBuffer, Text, View } from "@react-pdf/renderer";
import type { CardSheet } from "#server/visits/card-sheet";
import { cardText } from "../ui/card-text";
import { spoken } from "../words";
import { paperStyles as styles } from "./paper-styles";

/** The card by the water as a PDF: one page to hang up. */
function Card({ sheet }: { sheet: CardSheet }) {
  const text = cardText(sheet);
  return (
    <Document title={text.title} author={sheet.firm.name} language={spoken().locale}>
      <Page size="A4" style={[styles.page, { fontSize: 13 }]}>
        <View style={styles.head}>
          <Text style={styles.bold}>{text.by}</Text>
          <Text style={styles.title}>{text.title}</Text>
        </View>
        <Text style={{ fontSize: 30, fontWeight: 700, lineHeight: 1.2, marginTop: 10 }}>{text.amount}</Text>
        <Text style={{ fontSize: 20, marginBottom: 8 }}>{text.name}</Text>
        <Text style={[styles.bold, { marginBottom: 6 }]}>{text.when}</Text>
        {text.lines.map((line) => (
          <Text key={line} style={{ marginBottom: 4 }}>
            {line}
          </Text>
        ))}
        <View style={{ marginTop: 10 }}>
          {text.cautions.map((line) => (
            <Text key={line} style={[styles.warned, { marginBottom: 5 }]}>
              {line}
            </Text>
          ))}
        </View>
        <Text style={styles.footer}>{text.footer}</Text>
      </Page>
    </Document>
  );
}

/** The bytes of the file. */
export async function cardPdfOf(sheet: CardSheet): Promise<Uint8Array> {
  return new Uint8Array(await renderToBuffer(<Card sheet={sheet} />));
}
