/** Edits of the text of a document and of a policy's rules, each from text to text: comments, and all that is not edited, stay as they are. */
export { withValue } from './document-text.js';
export {
  copyFor,
  lineInRule,
  placeOf,
  ruleTexts,
  withAdded,
  withKey,
  withMoved,
  withoutRule,
  withRule,
} from './policy-text.js';
