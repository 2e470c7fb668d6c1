export { type CalendarDate, formatDate, parseDate } from './date.js';
export { durationPhrase, formatDuration, parseDuration } from './duration.js';
export { escapeHtml } from './html.js';
export { isName, type NamePlace, readName, readReference, readReferences, tryHeaderName } from './name.js';
export { DOCUMENT_KINDS, type DocumentKind, parseDocuments, type TextDocument } from './parse.js';
export {
  isEmptyMap,
  isListPlace,
  isMapPlace,
  isNothing,
  type MapEntry,
  type Place,
  Sink,
  siteOf,
  type Word,
} from './place.js';
export { cutRuns, type Run } from './runs.js';
export { parseTime } from './time.js';
export { readChoiceOr, readDuration, readNote, readWholeNumber } from './value.js';
