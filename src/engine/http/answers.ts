import type { Parts } from "../compose";
import type { Answers } from "./answer";
import { cutAnswers } from "./cutting";
import { eventAnswers } from "./events";
import { cutOutAnswers } from "./cut-out";
import { followAnswers } from "./follow";
import { historyAnswers } from "./history";
import { keepingAnswers } from "./keeping";
import { matchAnswers } from "./match";
import { mediaAnswers } from "./media";
import { proofAnswers } from "./proof";
import { plateAnswers } from "./plates";
import { productionAnswers } from "./productions";
import { renderAnswers } from "./renders";
import { shotAnswers } from "./shots";
import { takeAnswers } from "./takes";

/** An answer to every endpoint, a file a subject. */
export const answersOf = (parts: Parts): Answers => ({
  ...productionAnswers(parts),
  ...mediaAnswers(parts),
  ...takeAnswers(parts),
  ...shotAnswers(parts),
  ...historyAnswers(parts),
  ...cutAnswers(parts),
  ...plateAnswers(parts),
  ...matchAnswers(parts),
  ...followAnswers(parts),
  ...cutOutAnswers(parts),
  ...proofAnswers(parts),
  ...renderAnswers(parts),
  ...keepingAnswers(parts),
  ...eventAnswers(parts),
});
