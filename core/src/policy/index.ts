export {
  type Action,
  type ActionType,
  type FinalAction,
  isWaivable,
  noticeOf,
  VERDICTS,
  type Verdict,
} from './action.js';
export { type NewRule, withNewRule } from './add-rule.js';
export { type Covered, checkCovers, coveredClients, coveredHosts } from './covers.js';
export type { Mend } from './mend.js';
export {
  type ClientSource,
  type Covers,
  type DestinationSettings,
  IF_BLIND,
  type IfBlind,
  loudest,
  type Policy,
  RECORDS,
  type Record,
  type Rule,
  STANCES,
  type Stance,
} from './policy.js';
export { readPolicy } from './read.js';
export { listUses, nameUses, noticeUses, trustOf } from './references.js';
export { actionPhrase, defaultSentence, ruleSentence } from './sentence.js';
