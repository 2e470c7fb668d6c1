import { isMap, isSeq, parseDocument } from 'yaml';

/** A rule that is to be added to the text of a policy. */
export interface NewRule {
  readonly rule: string;
  readonly note?: string | undefined;
  readonly when: Readonly<Record<string, readonly string[]>>;
  readonly then: string;
}

/**
 * Adds a rule to the text of a policy, above the one that is named, or as the last; all else, comments too, stays.
 * Undefined where the policy has no rule of the name.
 */
export function withRule(text: string, rule: NewRule, above: string | undefined): string | undefined {
  const document = parseDocument(text, { version: '1.2' });
  const rules = document.get('rules');
  const items = isSeq(rules) ? rules.items : [];
  const named = items.findIndex((item) => isMap(item) && item.get('rule') === above);
  if (above !== undefined && named < 0) return undefined;
  const { note, ...rest } = rule;
  const node = document.createNode({
    rule: rest.rule,
    ...(note !== undefined && { note }),
    when: rest.when,
    then: rest.then,
  });
  const when = node.get('when', true);
  if (isMap(when)) when.flow = true;
  if (!isSeq(rules)) document.set('rules', [node]);
  else {
    node.spaceBefore = items.some((item) => isMap(item) && item.spaceBefore);
    rules.items.splice(above === undefined ? items.length : named, 0, node);
  }
  return document.toString({ lineWidth: 0, flowCollectionPadding: !/[{[]\S/.test(text) });
}
