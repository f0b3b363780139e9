/**
 * A number as people write it, in a field or a sheet: the one way from text to number.
 *
 * Groups of three may be parted by a blank, an apostrophe or the sign that is not the decimal one. Where
 * it is not said which sign is the decimal one, two signs tell it themselves (the last is); a comma that
 * parts whole groups of three is a thousands sign, as this program writes it ("15,000"); any other single
 * comma or point is a decimal sign ("1,5", "0,125").
 *
 * @returns NaN for what is no number, and for nothing
 * @example numberFrom("15,000") // 15000
 * @example numberFrom("15,5") // 15.5
 * @example numberFrom("1.234,5", ",") // 1234.5
 */
export function numberFrom(text: string, decimal?: "." | ","): number {
  const typed = text.trim();
  const sign = decimal ?? decimalIn(typed);
  const other = sign === "." ? "," : ".";
  const parted = new RegExp(
    `^([-−+]?)(\\d{1,3}(?:([${other}\\u00a0\\u202f\\u2009 '’])\\d{3})(?:\\3\\d{3})*|\\d+)?(?:\\${sign}(\\d*))?$`,
  ).exec(typed);
  if (parted && /\d/.test(typed)) {
    const [, minus = "", whole = "", , part = ""] = parted;
    return Number(`${minus === "−" ? "-" : minus}${whole.replace(/\D/g, "") || "0"}.${part || "0"}`);
  }
  // What a program wrote: 1e-7
  return decimal === undefined && /^-?\d+(\.\d+)?e[-+]?\d+$/i.test(typed) ? Number(typed) : Number.NaN;
}

/** Which sign is the decimal one. A whole part that begins with nought has no thousands. */
function decimalIn(typed: string): "." | "," {
  const point = typed.lastIndexOf(".");
  const comma = typed.lastIndexOf(",");
  if (point >= 0 && comma >= 0) return point > comma ? "." : ",";
  if (comma >= 0) return /^[-−+]?[1-9]\d{0,2}(,\d{3})+$/.test(typed) ? "." : ",";
  return /^[-−+]?[1-9]\d{0,2}(\.\d{3}){2,}$/.test(typed) ? "," : ".";
}

/**
 * Both numbers that a text may mean where one sign parts three figures: "1.250" is one and a quarter to some and
 * twelve hundred and fifty to others. A dose or a volume is asked about, never guessed. Null where it means one.
 * @example meaningsOf("1.250") // [1.25, 1250]
 * @example meaningsOf("12.5") // null
 */
export function meaningsOf(text: string): [number, number] | null {
  const parted = /^([1-9]\d{0,2})[.,](\d{3})$/.exec(text.trim());
  return parted ? [Number(`${parted[1]}.${parted[2]}`), Number(`${parted[1]}${parted[2]}`)] : null;
}
