import type { DocumentKind } from '@jade-fence/core/text';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';

export const ONLY = 'only these objects of the draft, each as its kind and name: policy/visitor-web list/home-workers';

/** The objects that are named, each by its kind and name. The service refuses a kind that is none. */
export function chosenObjects(words: readonly string[]): { readonly kind: DocumentKind; readonly name: string }[] {
  return words.map((word) => {
    const [, kind, name] = /^([^/]+)\/([^/]+)$/.exec(word) ?? [];
    if (kind !== undefined && name !== undefined) return { kind: kind as DocumentKind, name };
    throw failure(EXIT.usage, 'which-object', { word });
  });
}
