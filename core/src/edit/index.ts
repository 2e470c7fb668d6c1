/** Edits of a policy's text, each from text to text: comments, and all that is not edited, stay as they are. */
export {
  copyOf,
  lineInRule,
  placeOf,
  ruleTexts,
  withAdded,
  withKey,
  withMoved,
  withoutRule,
  withRule,
} from './policy-text.js';
