import { REQUEST_FIELDS } from './request-fields.js';

type Field = (typeof REQUEST_FIELDS)[number];
type Fields = Readonly<Record<string, unknown>>;

/**
 * Names of the OpenTelemetry semantic conventions for HTTP, by the short names that we give the fields. Of several
 * names of one field the first that is there counts.
 */
const CONVENTIONS: readonly (readonly [string, Field])[] = [
  ['timestamp', 'time'],
  ['@timestamp', 'time'],
  ['network.peer.address', 'peer'],
  ['client.address', 'peer'],
  ['http.request.method', 'method'],
  ['url.scheme', 'scheme'],
  ['server.address', 'host'],
  ['server.port', 'port'],
  ['url.path', 'path'],
  ['url.query', 'query'],
  ['url.full', 'url'],
  ['user_agent.original', 'agent'],
  ['user.name', 'user'],
  ['user.id', 'user'],
  ['enduser.id', 'user'],
  ['http.request.size', 'size'],
  ['http.request.body.size', 'size'],
  ['http.response.status_code', 'status'],
  ['http.response.size', 'bytes'],
  ['http.response.body.size', 'bytes'],
];
const HEADER = 'http.request.header.';
const PROTOCOL_NAME = 'network.protocol.name';
const PROTOCOL_VERSION = 'network.protocol.version';

const OURS = new Set<string>(REQUEST_FIELDS);
const CONVENTIONAL = new Map<string, Field>(CONVENTIONS);

/** The short name of a field that has either kind of name; undefined when it is not a field of requests. */
export function fieldNamed(name: string): string | undefined {
  const lower = name.toLowerCase();
  if (OURS.has(lower)) return lower;
  return CONVENTIONAL.get(lower);
}

/** An object in our short names from one that may be in the conventional ones; `attributes` are looked into. */
export function withOurNames(given: Fields): Fields {
  const fields = flattened(given);
  if (!Object.keys(fields).some(isConventionalName)) return fields;
  const found = new Map<string, unknown>();
  const headers = new Map<string, unknown>();
  for (const [name, value] of Object.entries(fields)) {
    if (name.startsWith(HEADER)) headers.set(name.slice(HEADER.length), value);
    else if (!isConventionalName(name)) found.set(name, value);
  }
  // A field that another name has filled keeps its value; this name counts as ignored.
  for (const [name, field] of CONVENTIONS)
    if (fields[name] !== undefined) found.set(found.has(field) ? name : field, plain(fields[name]));
  const protocol = protocolOf(fields);
  if (protocol !== undefined && !found.has('protocol')) found.set('protocol', protocol);
  // The log has only chosen headers, so they are passed on one by one.
  if (headers.size > 0) found.set('some-headers', Object.fromEntries(headers));
  return Object.fromEntries(found);
}

function flattened(given: Fields): Fields {
  if (given.attributes === undefined) return given;
  const { attributes, ...outer } = given;
  const isNested = attributes !== null && typeof attributes === 'object' && !Array.isArray(attributes);
  return isNested ? { ...outer, ...(attributes as Fields) } : given;
}

/** Whether it is one of the names of the conventions. */
export const isConventionalName = (name: string): boolean =>
  CONVENTIONAL.has(name) || name.startsWith(HEADER) || name === PROTOCOL_NAME || name === PROTOCOL_VERSION;

/** Attributes that may have several values come as lists. */
const plain = (value: unknown): unknown => (Array.isArray(value) ? value.join(', ') : value);

function protocolOf(fields: Fields): string | undefined {
  const version = fields[PROTOCOL_VERSION];
  if (typeof version !== 'string') return undefined;
  const name = fields[PROTOCOL_NAME];
  return `${typeof name === 'string' ? name.toUpperCase() : 'HTTP'}/${version}`;
}
