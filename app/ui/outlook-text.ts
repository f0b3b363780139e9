import type { GreenOutlook } from "#core";
import { words } from "../words";
import { plain, wholeMoneyText } from "./format";

/** Days that a job takes, whole ones: "2 to 6 days". */
export const jobDays = ({ days }: GreenOutlook): string =>
  words.jobs.days({
    low: plain(Math.max(1, Math.floor(days.low + 0.01)), 0),
    high: plain(Math.ceil(days.high - 0.01), 0),
  });

/** What a job costs, by whole units of money: "$230 to $610". */
export const jobMoney = ({ money }: GreenOutlook, currency: string): string =>
  words.jobs.money({
    low: wholeMoneyText(Math.floor(money.low), currency),
    high: wholeMoneyText(Math.ceil(money.high), currency),
  });
