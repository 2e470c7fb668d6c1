import { fieldName, formatTerm, partTerms, type Term, type Test, valuesOf } from '../../condition/index.js';
import { conditionsHold, type Judged, testField } from '../reference/test.js';
import { findEntry } from './entry.js';
import type { ExplainedTest } from './explanation.js';
import { type Seen, seenBy } from './seen.js';
import { unseenReason } from './unseen.js';

/** Why a field's test holds or not, with the value that it saw. */
export function explainTest(test: Test, judged: Judged): ExplainedTest {
  const { holds } = testField(test, judged);
  const seen = seenBy(test, judged);
  const wanted = valuesOf(test).map((value) =>
    value.type === 'not'
      ? `not: ${value.values.map((term) => wantedText(test, term)).join(', ')}`
      : wantedText(test, value as Term),
  );
  const because =
    holds === 'unseen' || seen === undefined ? unseenReason(test, judged) : becausePhrase(test, judged, seen);
  return { field: fieldName(test), holds, wanted, seen: seen?.text ?? null, because };
}

function becausePhrase(test: Test, judged: Judged, seen: Seen): string {
  const { asked, left } = partTerms(test);
  const matching = (terms: readonly Term[]) =>
    terms.map((term) => matchOf(test, term, judged, seen)).find((each) => each !== undefined);
  const hit = matching(asked);
  if (hit) return `${seen.text} ${hit}`;
  const refused = matching(left);
  if (refused) return `${seen.text} ${refused}, which the rule excludes`;
  const value = seen.texts.length === 0 ? `is ${seen.text}, which` : seen.text;
  return left.length > 0 ? `${value} is none of the exceptions` : `${value} is none of the listed values`;
}

/** How the one term matches what was seen, or undefined where it does not. */
function matchOf(test: Test, term: Term, judged: Judged, seen: Seen): string | undefined {
  const alone = { ...test, values: [term] } as Test;
  if (testField(alone, judged).holds !== 'match') return undefined;
  if (term.type === 'list') return entryPhrase(term.name, judged, seen);
  const wanted = wantedText(test, term);
  const since = term.type === 'name' ? membershipPhrase(test, term.name, judged) : '';
  return (wanted === seen.text ? 'matches' : `matches ${wanted}`) + since;
}

/** Why the request belongs to the category or application, from its host and entry on. */
function membershipPhrase(test: Test, name: string, judged: Judged): string {
  if (test.field !== 'category' && test.field !== 'application') return '';
  const all = test.field === 'category' ? judged.prepared.categories : judged.prepared.applications;
  const holding = all.get(name)?.find((condition) => conditionsHold([condition], judged).holds === 'match');
  if (holding === undefined) return '';
  return `, since ${holding.map((each) => `${fieldName(each)} ${explainTest(each, judged).because}`).join(' and ')}`;
}

function entryPhrase(name: string, judged: Judged, seen: Seen): string {
  const entry = findEntry(name, seen, judged.prepared, judged.subject.paths);
  if (!entry) return `is in list ${name}`;
  const through = entry.list === name ? '' : ` through list ${entry.list}`;
  const note = entry.note === undefined ? '' : ` (${entry.note})`;
  return `is in list ${name}${through}: entry ${entry.text}${note}`;
}

function wantedText(test: Test, term: Term): string {
  if (term.type !== 'none') return formatTerm(term);
  return test.field === 'category' ? 'uncategorised' : 'unidentified';
}
