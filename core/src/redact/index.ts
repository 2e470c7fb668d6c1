export {
  formatRedaction,
  isRedacting,
  NO_REDACTION,
  REDACTION_FORMS,
  type Redaction,
  redactedByAny,
  tryRedaction,
} from './redaction.js';
export { clientPseudonym, type Pseudonym, type PseudonymKind, Redactor, type Shown } from './redactor.js';
export { isStorable, STORED_FORMS, withoutRedacted } from './stored.js';
