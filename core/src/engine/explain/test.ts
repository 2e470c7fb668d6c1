import { type Address, formatAddress, formatRange } from '../../address/index.js';
import { formatDomainPattern } from '../../domain/index.js';
import { type Field, formatPorts, type Term, type Test, termsOf, type Value } from '../../policy/index.js';
import { portOf } from '../../request/index.js';
import { formatPathPattern } from '../../url/index.js';
import type { Prepared } from '../prepared.js';
import { testField } from '../reference/test.js';
import type { Subject } from '../subject.js';
import { findEntry } from './entry.js';
import type { ExplainedTest } from './explanation.js';

/** Why a field's test holds or not, with the value that it saw. */
export function explainTest(test: Test, subject: Subject, prepared: Prepared): ExplainedTest {
  const holds = testField(test, subject, prepared).holds;
  const seen = seenOf(test.field, subject);
  const text = seen === undefined ? null : typeof seen === 'string' ? seen : formatAddress(seen);
  const wanted = (test.values as readonly Value<Term>[]).map(tellValue);
  return { field: test.field, holds, wanted, seen: text, because: because(test, subject, prepared, text, seen) };
}

function seenOf(field: Field, { request, client, origin }: Subject): Address | string | undefined {
  switch (field) {
    case 'client':
      return client.address;
    case 'peer':
      return request.peer;
    case 'country':
      return origin?.country;
    case 'host':
      return request.host;
    case 'path':
      return request.path;
    case 'method':
      return request.method;
    case 'scheme':
      return request.scheme;
    case 'protocol':
      return request.protocol;
    case 'port':
      return portOf(request)?.toString();
  }
}

function because(
  test: Test,
  subject: Subject,
  prepared: Prepared,
  text: string | null,
  seen: Address | string | undefined,
): string {
  if (seen === undefined) return unseenReason(test.field, subject, prepared);
  const plain = (test.values as readonly Value<Term>[]).filter((value) => value.type !== 'not') as Term[];
  const negated = (test.values as readonly Value<Term>[]).filter((value) => value.type === 'not');
  const hit = plain.map((term) => matchOf(test, term, subject, prepared, seen)).find((each) => each !== undefined);
  if (hit) return `${text} ${hit}`;
  const refusing = negated.flatMap((value) => termsOf(value));
  const refused = refusing
    .map((term) => matchOf(test, term, subject, prepared, seen))
    .find((each) => each !== undefined);
  if (refused) return `${text} ${refused}, which the rule leaves out`;
  return negated.length > 0 ? `${text} is none of those left out` : `${text} is none of those asked for`;
}

/** How the one term matches what was seen, or undefined where it does not. */
function matchOf(
  test: Test,
  term: Term,
  subject: Subject,
  prepared: Prepared,
  seen: Address | string,
): string | undefined {
  const alone = { field: test.field, values: [term] } as unknown as Test;
  if (testField(alone, subject, prepared).holds !== 'match') return undefined;
  if (term.type !== 'list') return tellMatch(tellTerm(term), typeof seen === 'string' ? seen : formatAddress(seen));
  const entry = findEntry(term.name, seen, prepared);
  if (!entry) return `is in list ${term.name}`;
  const through = entry.list === term.name ? '' : ` through list ${entry.list}`;
  const note = entry.note === undefined ? '' : ` (${entry.note})`;
  return `is in list ${term.name}${through}: entry ${entry.text}${note}`;
}

function tellMatch(wanted: string, seen: string): string {
  return wanted === seen ? 'is what is asked for' : `matches ${wanted}`;
}

function unseenReason(field: Field, { client }: Subject, prepared: Prepared): string {
  if (field === 'country' && prepared.countryData === undefined) return 'no country data is loaded';
  if ((field === 'client' || field === 'country') && client.how === 'headers-disagree')
    return 'the forwarding headers disagree about the client';
  return field === 'country' ? 'the request does not tell its client' : `the request does not show its ${field}`;
}

function tellValue(value: Value<Term>): string {
  return value.type === 'not' ? `not: ${termsOf(value).map(tellTerm).join(', ')}` : tellTerm(value as Term);
}

function tellTerm(term: Term): string {
  switch (term.type) {
    case 'list':
      return `list:${term.name}`;
    case 'range':
      return formatRange(term.range);
    case 'country':
      return term.code;
    case 'unknown':
    case 'private':
      return term.type;
    case 'host':
      return formatDomainPattern(term.pattern);
    case 'path':
      return formatPathPattern(term.pattern);
    case 'method':
      return term.method;
    case 'token':
      return term.token;
    case 'port':
      return formatPorts(term);
  }
}
