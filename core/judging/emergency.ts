/** Whom to ring, by where a firm works. */
export interface EmergencyNumbers {
  emergency: string;
  /** Poison center by phone, at any hour; null where none has one number for all. */
  poison: string | null;
}

const UNITED_STATES: EmergencyNumbers = { emergency: "911", poison: "1-800-222-1222" };
const CANADA: EmergencyNumbers = { emergency: "911", poison: "1-844-764-7669" };

/** By the time zone's name, the longest beginning that fits; numbers as each country publishes them. */
const NUMBERS: Readonly<Record<string, EmergencyNumbers>> = {
  // Most countries of the Americas took 911.
  "America/": { emergency: "911", poison: null },
  ...Object.fromEntries(
    [
      "America/New_York",
      "America/Detroit",
      "America/Chicago",
      "America/Denver",
      "America/Boise",
      "America/Phoenix",
      "America/Los_Angeles",
      "America/Anchorage",
      "America/Indiana/",
      "America/Kentucky/",
      "America/North_Dakota/",
      "America/Puerto_Rico",
      "Pacific/Honolulu",
    ].map((zone) => [zone, UNITED_STATES]),
  ),
  ...Object.fromEntries(
    [
      "America/Toronto",
      "America/Vancouver",
      "America/Edmonton",
      "America/Winnipeg",
      "America/Halifax",
      "America/Regina",
      "America/St_Johns",
    ].map((zone) => [zone, CANADA]),
  ),
  "Europe/": { emergency: "112", poison: null },
  "Europe/London": { emergency: "999", poison: null },
  "Australia/": { emergency: "000", poison: "13 11 26" },
  "Pacific/Auckland": { emergency: "111", poison: "0800 764 766" },
};

/** 112 reaches help from a mobile phone nearly everywhere (3GPP TS 22.101). */
const ELSEWHERE: EmergencyNumbers = { emergency: "112", poison: null };

/**
 * The emergency and poison numbers of a firm's time zone.
 * @example emergencyNumbers("America/Denver").emergency // "911"
 */
export function emergencyNumbers(timeZone: string): EmergencyNumbers {
  const [best] = Object.keys(NUMBERS)
    .filter((zone) => timeZone.startsWith(zone))
    .sort((a, b) => b.length - a.length);
  return (best && NUMBERS[best]) || ELSEWHERE;
}
