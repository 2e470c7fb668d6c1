import { readFileSync } from 'node:fs';
import { Ajv, type ValidateFunction } from 'ajv';

/*
 * What the service answers is what its description says: every answer that a test gets is held to the schema of its call.
 * Fields that the description does not have are an error, too.
 */

const SCHEMA = new URL('../../contract/dist/calls.json', import.meta.url);

interface Described {
  readonly call: string;
  readonly method: string;
  readonly path: RegExp;
  /** Parts of the path that are named, and not filled in. */
  readonly fixed: number;
}

/** The schema of all calls of the contract. */
// biome-ignore lint/suspicious/noExplicitAny: schemas of every shape
export const callsSchema = (): any => JSON.parse(readFileSync(SCHEMA, 'utf8'));

let known: { readonly ajv: Ajv; readonly calls: readonly Described[] } | undefined;

function load() {
  if (known) return known;
  const schema = callsSchema();
  const ajv = new Ajv({ strict: false, allErrors: true });
  ajv.addSchema(schema, 'calls');
  const all: Record<string, { readonly properties?: { readonly answer?: object } }> =
    schema.definitions.Calls.properties;
  const answering = Object.keys(all).filter((call) => all[call]?.properties?.answer);
  const calls = answering.map((call): Described => {
    const [method = '', path = ''] = call.split(' ');
    const parts = path.split('/');
    const pattern = parts.map((part) => (part.startsWith(':') ? '[^/]+' : part)).join('/');
    return {
      call,
      method,
      path: new RegExp(`^/api/v1${pattern}$`),
      fixed: parts.filter((part) => !part.startsWith(':')).length,
    };
  });
  known = { ajv, calls };
  return known;
}

const validators = new Map<string, ValidateFunction>();

/** The call of the contract that a method and path are; undefined where its answer is no JSON of ours. */
export function callOf(method: string, path: string): string | undefined {
  const [plain = ''] = path.split('?');
  const found = load().calls.filter((each) => each.method === method && each.path.test(plain));
  return found.sort((a, b) => b.fixed - a.fixed)[0]?.call;
}

/** Throws where an answer is not what the contract says of its call. */
export function holdToContract(method: string, path: string, body: unknown): void {
  const call = callOf(method, path);
  if (call === undefined) return;
  const { ajv } = load();
  const pointer = call.replaceAll('~', '~0').replaceAll('/', '~1');
  const validate =
    validators.get(call) ??
    ajv.compile({ $ref: `calls#/definitions/Calls/properties/${encodeURIComponent(pointer)}/properties/answer` });
  validators.set(call, validate);
  if (validate(body)) return;
  const shown = (validate.errors ?? [])
    .slice(0, 5)
    .map((error) => `${error.instancePath}: ${error.message} ${JSON.stringify(error.params)}`);
  throw new Error(
    `${call} answers what the contract does not say:\n${shown.join('\n')}\n${JSON.stringify(body).slice(0, 500)}`,
  );
}
