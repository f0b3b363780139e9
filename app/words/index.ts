export { auditText, deviceName } from "./audit";
export { workDueText, workName, workShort } from "./chores";
export { doubtBack, doubtKeep, doubtName, doubtText, dueText, sampleWhy, stepSentence } from "./doubts";
export { faultSentence, tooManyTries } from "./faults";
export { findingSentence, noDoseReason, purpose, unsavedText, waitAfter, waitText } from "./findings";
export { everyText, meansText, spoonText, togetherText } from "./hold";
export { fill, type Language, speak, speaking, spoken, words } from "./language";
export {
  bracketText,
  everydayUnit,
  KINDS,
  measureName,
  methodName,
  placeWord,
  productName,
  quantityName,
  quantityShort,
  rangeSetName,
  rangeText,
  shipped,
  soldAs,
  stopName,
  surfaceName,
  weekdayLong,
  weekdayShort,
} from "./names";
export { type NoticeText, noticeText, type Writers } from "./notices";
export {
  daysText,
  durationText,
  figuresText,
  formatter,
  listText,
  numberText,
  ungroupedText,
} from "./numbers";
export { bathingReason, coldText, hotText, notOverText } from "./safety";
export { slipText } from "./slips";
export { taskText } from "./tasks";
export { againstTexts, changeText, giveText, onDay, reasonText, ruleTexts, type WeekNames } from "./week";
export type Chance = Parameters<Messages["habits"]["crosses"]>[0]["chance"];

import type { Messages } from "../messages/compiled/messages";
