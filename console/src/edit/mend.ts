import { placeOf, ruleTexts, withAdded, withKey, withMoved, withoutRule, withRule } from '@jade-fence/core/edit';
import type { Finding } from '@jade-fence/core/review';
import { isMap, isScalar, isSeq, type Pair, parseDocument, stringify } from 'yaml';

export type Mend = NonNullable<Finding['mend']>;

/** The text of a policy with one mend made; undefined where a rule that it speaks of is there no more. */
export function mended(policy: string, mend: Mend): string | undefined {
  const place = placeOf(policy, mend.rule);
  if (mend.type === 'allow-first') {
    const rule = { rule: mend.rule, when: mend.when, then: 'allow' };
    return withAdded(policy, 0, stringify(rule, { collectionStyle: 'any', flowCollectionPadding: false }));
  }
  if (place < 0) return undefined;
  switch (mend.type) {
    case 'move-above': {
      const above = placeOf(policy, mend.above);
      if (above < 0) return undefined;
      return above < place ? withMoved(policy, place, above) : policy;
    }
    case 'move-last':
      return withMoved(policy, place, ruleTexts(policy).length - 1);
    case 'delete':
      return withoutRule(policy, place);
    case 'set':
      return withRule(policy, place, withKey(ruleTexts(policy)[place] ?? '', mend.key, mend.value));
    case 'add-values':
      return withRule(policy, place, withValues(ruleTexts(policy)[place] ?? '', mend));
  }
}

/** Adds values to a field of `when`, in each of its alternatives that names the value beside which they belong. */
function withValues(rule: string, { field, beside, values }: Extract<Mend, { type: 'add-values' }>): string {
  const document = parseDocument(rule);
  const when = document.get('when');
  for (const alternative of isSeq(when) ? when.items : [when]) {
    if (!isMap(alternative)) continue;
    const pair = alternative.items.find(({ key }) => isScalar(key) && key.value === field) as Pair | undefined;
    const named = isSeq(pair?.value) ? pair.value : undefined;
    if (named?.items.some((each) => isScalar(each) && each.value === beside))
      for (const value of values) named.add(document.createNode(value));
    else if (pair && isScalar(pair.value) && pair.value.value === beside)
      pair.value = document.createNode([beside, ...values], { flow: true });
  }
  return document.toString({ lineWidth: 0, flowCollectionPadding: false });
}
