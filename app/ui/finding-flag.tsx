import type { Finding } from "#core";
import { placeWord, quantityShort } from "../words";
import { Flag } from "./flag";
import { BOUND_SIGN, valueText } from "./format";
import { useFirm } from "./use-firm";

/** A finding in three words: "TA low 60". */
export function FindingFlag({ finding }: { finding: Finding }) {
  const { units } = useFirm();
  const place = finding.code.endsWith(".low") ? "low" : "high";
  return (
    <Flag place={place} closes={finding.closes}>
      {quantityShort(finding.quantity)} {placeWord(place)} {BOUND_SIGN[finding.bound]}
      {valueText(finding.quantity, finding.value, units)}
    </Flag>
  );
}
