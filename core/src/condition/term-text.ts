import { formatRange } from '../address/index.js';
import { formatDomainPattern } from '../domain/index.js';
import { formatTextPattern } from '../pattern/index.js';
import { formatPathPattern, formatUrlPattern } from '../url/index.js';
import type { PortTerm, Term } from './condition.js';
import { formatAmount } from './size.js';

/** The term as it is written in a rule. */
export function formatTerm(term: Term): string {
  switch (term.type) {
    case 'list':
      return `list:${term.name}`;
    case 'range':
      return formatRange(term.range);
    case 'country':
      return term.code;
    case 'unknown':
    case 'private':
    case 'anonymous':
    case 'present':
    case 'absent':
      return term.type;
    case 'host':
      return formatDomainPattern(term.pattern);
    case 'path':
      return formatPathPattern(term.pattern);
    case 'url':
      return formatUrlPattern(term.pattern);
    case 'text':
      return formatTextPattern(term.pattern);
    case 'name':
      return term.name;
    case 'none':
      return 'none of them';
    case 'token':
      return term.token;
    case 'port':
      return formatPorts(term);
    case 'user':
      return term.user;
    case 'size':
      return `${term.comparison} ${formatAmount(term.bytes)}`;
  }
}

/** `443`, or `8000-8099`. */
export const formatPorts = ({ first, last }: PortTerm): string => (first === last ? String(first) : `${first}-${last}`);
