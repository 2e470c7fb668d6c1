import { networkOf, parseAddress } from '@jade-fence/core/address';
import type { LargeCondition, LargeRule } from '../large/workspace.js';
import { addressNumber } from './address-number.js';

/**
 * A rule's conditions as an expression of SQL over the columns of `judged`: true, false, or null where the request lacks
 * what they test, since SQL combines these as the rule language does. `list` gives a list's number, its bit in `lists`.
 */
export function conditionSql({ when, unless }: LargeRule, list: (name: string) => number): string {
  const matches = [when].flat().map((each) => allSql(each as LargeCondition, list));
  const any = `(${matches.join(' OR ')})`;
  return unless === undefined ? any : `(${any} AND NOT ${allSql(unless, list)})`;
}

function allSql(condition: LargeCondition, list: (name: string) => number): string {
  const tests = Object.entries(condition).map(([field, values]) => {
    const { not: excluded } = values as { readonly not?: readonly string[] };
    const any = (excluded ?? (values as readonly string[])).map((value) => testSql(field, value, list)).join(' OR ');
    return excluded === undefined ? `(${any})` : `NOT (${any})`;
  });
  return `(${tests.join(' AND ')})`;
}

function testSql(field: string, value: string, list: (name: string) => number): string {
  if (field === 'client') return clientSql(value, list);
  if (field === 'host' && value.startsWith('.'))
    return `(host = ${text(value.slice(1))} OR host LIKE ${text(`%${value}`)})`;
  if (value.startsWith('~')) return `regexp_matches(${field}, ${text(value.slice(1))})`;
  if (value.includes('*')) return `${field} LIKE ${text(value.replaceAll(/\*+/g, '%'))}`;
  return `${field} = ${text(value)}`;
}

function clientSql(value: string, list: (name: string) => number): string {
  if (value.startsWith('list-')) return `(lists & ${1n << BigInt(list(value))}) <> 0`;
  const [base = '', length] = value.split('/');
  const address = parseAddress(base);
  if (address === undefined) throw new Error(`«${value}» is no address`);
  if (length === undefined) return `client = ${addressNumber(address)}`;
  const { first, last } = networkOf(address, Number(length));
  return `client BETWEEN ${addressNumber(first)} AND ${addressNumber(last)}`;
}

const text = (value: string): string => `'${value.replaceAll("'", "''")}'`;
