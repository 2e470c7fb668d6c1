/** All edits of texts that are made by one press. They come with a reader of YAML, which only who edits has to fetch. */
export { placeOf, withKey, withMoved, withoutRule } from '@jade-fence/core/edit';
export { withCopies, withoutRules, withStance } from '../policy/several.js';
export { mended } from './mend.js';
export { duplicateOf, newPolicy } from './policy-head.js';
