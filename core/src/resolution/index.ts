export {
  ANSWER_SOURCES,
  type Answer,
  type AnswerSource,
  type AnswerSourceKind,
  answerSentence,
  holdsUntil,
  inOrder,
  MOST_ADDRESSES,
  sourcePhrase,
} from './answer.js';
export { type ResolutionFault, resolutionFaultText } from './fault.js';
export { isPrivateAddress, isPrivateName } from './private.js';
export {
  RESOLUTION_FORMATS,
  type ResolutionFile,
  type ResolutionFileOptions,
  type ResolutionFormat,
  readResolutionFile,
} from './read/read.js';
export {
  type AnswerTable,
  addressesFor,
  allAnswers,
  answeredHosts,
  answerFor,
  compileAnswers,
  isEmpty,
  isToResolve,
  literalOf,
  NO_RESOLUTIONS,
  onlyFour,
  type Resolutions,
} from './resolutions.js';
export { type PackedAnswers, packAnswers, unpackAnswers } from './text.js';
