import type { TextTerm, UserTerm } from '../../condition/index.js';
import { makeRequest, packValues, type Request, textValues, unpackValues } from '../../request/index.js';
import type { PreparedRules } from '../prepared.js';
import { namesOf } from '../semantics/user-names.js';
import type { Axis } from './axis.js';
import type { Matched } from './classes.js';
import { matchUsers } from './match/names.js';
import { matchTexts } from './match/texts.js';
import type { SourcePlan } from './source/source.js';
import { textSource } from './source/text-source.js';

/** The column of chunks that is `yes` for a request with all its headers. */
export const ALL_HEADERS = 'all-headers';

/** The source of the user and the groups. */
export function planUsers(axes: readonly Axis[], prepared: PreparedRules): SourcePlan {
  const byAxis = axes.map((axis) => ({
    field: axis.field as 'user' | 'group',
    match: matchUsers(axis.terms as UserTerm[], prepared),
  }));
  return textSource({
    axes,
    columns: ['user', 'groups'],
    texts: ({ user, groups }) => [user, groups?.join('\n')],
    match: ([user, groups]) => {
      const request = makeRequest({ user, groups: groups === undefined ? undefined : linesOf(groups) });
      return byAxis.map(({ field, match }): Matched => {
        const names = namesOf(field, request);
        return names && { matched: match(names) };
      });
    },
  });
}

const linesOf = (text: string): string[] => (text === '' ? [] : text.split('\n'));

/** Fields of text: the agent, the referrer, headers, and the parameters of queries and cookies. */
export function planTexts(column: string, axes: readonly Axis[], prepared: PreparedRules): SourcePlan {
  const byAxis = axes.map((axis) => {
    const dot = axis.field.indexOf('.');
    const field = (dot < 0 ? axis.field : axis.field.slice(0, dot)) as 'agent';
    return { field, name: axis.field.slice(dot + 1), match: matchTexts(axis.terms as TextTerm[], prepared) };
  });
  const { columns, texts, requestOf } = textColumns(column);
  return textSource({
    axes,
    columns,
    texts,
    match: (seen) => {
      const request = requestOf(seen);
      return byAxis.map(({ field, name, match }): Matched => {
        const values = textValues(request, field, name);
        return values && { matched: match(values) };
      });
    },
  });
}

type Texts = readonly (string | undefined)[];

interface TextColumns {
  readonly columns: readonly string[];
  readonly texts: (request: Request) => Texts;
  /** A request that shows just these texts. */
  readonly requestOf: (texts: Texts) => Request;
}

/** The columns that a text field is read from. */
function textColumns(column: string): TextColumns {
  switch (column) {
    case 'agent':
      return headerColumns('user-agent', column);
    case 'referrer':
      return headerColumns('referer', column);
    case 'query':
      // For a query it only matters whether the path is seen.
      return {
        columns: ['query', 'path'],
        texts: ({ query, path }) => [query, path],
        requestOf: ([query, path]) => makeRequest({ query, path }),
      };
    default:
      return headerColumns(column.slice('header.'.length));
  }
}

/** A header's own column, whether the log has all headers, and before them the field that holds this one alone, if any. */
function headerColumns(header: string, own?: 'agent' | 'referrer'): TextColumns {
  const columns = [`header.${header}`, ALL_HEADERS];
  const textsOf = ({ headers, allHeaders }: Request): Texts => {
    const values = headers.get(header);
    const isHidden = values === undefined && headers.has(header);
    return [values && packValues(values), allHeaders && !isHidden ? 'yes' : undefined];
  };
  const fieldsOf = ([packed, all]: Texts) => ({
    headers: new Map(packed === undefined ? [] : [[header, unpackValues(packed)]]),
    allHeaders: all !== undefined,
  });
  if (own === undefined) return { columns, texts: textsOf, requestOf: (texts) => makeRequest(fieldsOf(texts)) };
  return {
    columns: [own, ...columns],
    texts: (request) => [request[own], ...textsOf(request)],
    requestOf: ([text, ...texts]) => makeRequest({ ...fieldsOf(texts), [own]: text }),
  };
}
