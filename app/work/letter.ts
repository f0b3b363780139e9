import type { CustomerSheet } from "#server/visits/customer-sheet";
import { dayText } from "../ui/format";
import { told } from "../ui/paper";
import { words } from "../words";

/** "We were here": whether the water may be used, what was found and done, and where the whole sheet is. In the language spoken. */
export function letterOf(
  sheet: CustomerSheet,
  links: { sheet: string; stop: string },
): { subject: string; text: string } {
  const said = words.letter;
  const text = told(sheet);
  const list = (title: string, lines: readonly string[]) =>
    lines.length > 0 ? [`${title}\n${lines.map((line) => `- ${line}`).join("\n")}`] : [];
  return {
    subject: said.subject({ firm: sheet.firm.name, basin: sheet.basin.name }),
    text: [
      said.greeting({ basin: sheet.basin.name, site: sheet.site, by: sheet.by }),
      [text.swim, ...text.reasons, ...text.urgent].join("\n"),
      text.untested,
      ...list(
        text.headings.tested,
        text.readings.map(({ name, value, place, off }) =>
          off ? `${name} ${value}, ${place}` : `${name} ${value}`,
        ),
      ),
      ...list(text.headings.given, text.given),
      ...list(text.headings.work, text.work),
      sheet.note,
      ...list(
        text.headings.repairs,
        text.repairs.map(({ title, quote }) => (quote ? `${title}: ${quote.said}` : title)),
      ),
      sheet.next ? said.next({ day: dayText(sheet.next) }) : "",
      `${said.sheet}\n${links.sheet}`,
      `${sheet.firm.name}`,
      `${said.stop}\n${links.stop}`,
    ]
      .filter((part) => part !== "")
      .join("\n\n"),
  };
}
