import { readYaml } from './yaml-value.js';

/** A value of a field: a word, or words of which it is none. */
export type FieldValue = string | { readonly not: readonly string[] };
/** What must hold together: fields, and in each of them any of its values. */
export type Alternative = Readonly<Record<string, readonly FieldValue[]>>;

/** A rule as the form has it. */
export interface RuleValue {
  readonly rule: string;
  readonly note: string;
  readonly stance: string;
  readonly record: string;
  readonly ifBlind: string;
  readonly when: readonly Alternative[];
  readonly unless: readonly Alternative[];
  readonly limit: Readonly<Record<string, unknown>> | undefined;
  readonly then: unknown;
}

/** Reads the text of a rule; the problems of its YAML where it cannot be read. */
export function readRule(text: string): RuleValue | { readonly faults: readonly string[] } {
  const read = readYaml(text);
  if ('faults' in read) return read;
  const { value } = read;
  if (value === null || typeof value !== 'object' || Array.isArray(value))
    return { faults: ['A rule is a map with `rule`, `when` and `then`.'] };
  const rule = value as Record<string, unknown>;
  return {
    rule: wordOf(rule.rule),
    note: wordOf(rule.note),
    stance: wordOf(rule.stance) || 'enforce',
    record: wordOf(rule.record) || 'log',
    ifBlind: wordOf(rule['if-blind']) || 'no-match',
    when: alternativesOf(rule.when),
    unless: alternativesOf(rule.unless),
    limit: isMap(rule.limit) ? rule.limit : undefined,
    then: rule.then,
  };
}

/** What is written for alternatives; undefined for none. */
export function writtenAlternatives(alternatives: readonly Alternative[]): unknown {
  const written = alternatives.map((alternative) =>
    Object.fromEntries(Object.entries(alternative).map(([field, values]) => [field, values.map(asWritten)])),
  );
  return written.length === 0 ? undefined : written.length === 1 ? written[0] : written;
}

/** Numbers are written as numbers, as people write ports. */
const asWritten = (value: FieldValue): unknown =>
  typeof value === 'string' && /^[1-9]\d{0,8}$/.test(value) ? Number(value) : value;

const isMap = (value: unknown): value is Record<string, unknown> =>
  value !== null && typeof value === 'object' && !Array.isArray(value);

const wordOf = (value: unknown): string => (value === undefined || value === null ? '' : String(value).trim());

const listOf = (value: unknown): readonly unknown[] =>
  value === undefined || value === null ? [] : Array.isArray(value) ? value : [value];

export function alternativesOf(value: unknown): Alternative[] {
  return listOf(value)
    .filter(isMap)
    .map((map) =>
      Object.fromEntries(Object.entries(map).map(([field, values]) => [field, listOf(values).map(fieldValueOf)])),
    );
}

const fieldValueOf = (value: unknown): FieldValue =>
  isMap(value) ? { not: listOf(value.not).map(wordOf) } : wordOf(value);
