import { tryHeaderName } from '../text/index.js';

/** The fields that a rule can test. `header`, `query` and `cookie` have a further name: `header.x-client`. */
export const PLAIN_FIELDS = [
  ...(['client', 'peer', 'country', 'destination', 'destination-country', 'host', 'path', 'url'] as const),
  ...(['category', 'application', 'tag'] as const),
  ...(['method', 'scheme', 'protocol', 'port', 'user', 'group', 'agent', 'referrer', 'size', 'time'] as const),
] as const;
export type PlainField = (typeof PLAIN_FIELDS)[number];

export const NAMED_FIELDS = ['header', 'query', 'cookie'] as const;
export type NamedField = (typeof NAMED_FIELDS)[number];

export type Field = PlainField | NamedField;

/** A field with its name where it has one, as it is written: `host`, `header.x-client`. */
export type FieldName = PlainField | `${NamedField}.${string}`;

/** A field, and the name behind its dot; undefined where the field has none. */
export interface FieldPlace {
  readonly field: Field;
  readonly name: string | undefined;
}

const OTHER_NAME = /^[^\x00-\x20\x7f]{1,100}$/;

/** Reads the name of a field; undefined where it is none. Names of headers do not mind their case. */
export function tryField(text: string): FieldPlace | undefined {
  const plain = PLAIN_FIELDS.find((field) => field === text);
  if (plain) return { field: plain, name: undefined };
  const dot = text.indexOf('.');
  const named = NAMED_FIELDS.find((field) => field === text.slice(0, dot));
  if (dot < 0 || named === undefined) return undefined;
  const name = text.slice(dot + 1);
  if (named === 'header') {
    const header = tryHeaderName(name);
    return header === undefined ? undefined : { field: named, name: header };
  }
  return OTHER_NAME.test(name) ? { field: named, name } : undefined;
}

/** The field as rules write it: `host`, `header.x-client`. */
export const fieldName = ({ field, name }: FieldPlace): FieldName =>
  name === undefined ? (field as PlainField) : `${field as NamedField}.${name}`;

/** The list of fields, for the message about an unknown one. */
export const FIELD_HINTS: readonly string[] = [...PLAIN_FIELDS, ...NAMED_FIELDS.map((field) => `${field}.NAME`)];
