import { readFileSync } from 'node:fs';
import { API, MAY_CALL } from '@jade-fence/contract';
import type { ClassConstructor } from 'class-transformer';
import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js';
import { targetConstructorToSchema } from 'class-validator-jsonschema';
import { version } from '../version.js';
import { type DescribedRoute, LARGEST_BODY } from './api.js';

type Json = Record<string, unknown>;

const REF = '#/components/schemas/';

/**
 * The description of the API (OpenAPI 3.1), made of the routes, of the classes that their inputs are validated by, and of the
 * types of what they answer.
 */
export function openApiOf(routes: readonly DescribedRoute[]): Json {
  const { answers, schemas: ofAnswers } = answerSchemas();
  const schemas: Json = { ...ofAnswers, Problem: PROBLEM };
  const schemaFor = (type: ClassConstructor<object>): Json => {
    if (!(type.name in schemas)) {
      schemas[type.name] = schemaOf(type);
      for (const each of nestedIn(type)) schemaFor(each);
    }
    return { $ref: `${REF}${type.name}` };
  };
  const paths: Record<string, Json> = {};
  for (const route of routes) {
    const [method = '', pattern = ''] = route.call.split(' ');
    const path = `${API}${pattern.replace(/:(\w+)/g, '{$1}')}`;
    paths[path] = { ...paths[path], [method.toLowerCase()]: operationOf(route, schemaFor, answers[route.call]) };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Jade Fence', version },
    security: [{ token: [] }, { session: [] }],
    paths,
    components: {
      schemas,
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer' },
        session: { type: 'apiKey', in: 'cookie', name: 'jade_fence_session' },
      },
    },
  };
}

const OPTIONS = {
  refPointerPrefix: REF,
  classTransformerMetadataStorage: defaultMetadataStorage,
  additionalConverters: { isInstant: { type: 'string' as const, description: 'An RFC 3339 time, or a day in UTC' } },
};

/** What calls answer, made of the types of the contract when it is built, and the schemas that these refer to. */
function answerSchemas(): { readonly answers: Readonly<Record<string, Json>>; readonly schemas: Json } {
  const text = readFileSync(new URL(import.meta.resolve('@jade-fence/contract/calls.json')), 'utf8');
  const { definitions } = JSON.parse(text.replaceAll('#/definitions/', REF)) as {
    readonly definitions: Record<string, Json> & {
      readonly Calls: { readonly properties: Record<string, { readonly properties?: { readonly answer?: Json } }> };
    };
  };
  const answers: Record<string, Json> = {};
  for (const [call, { properties }] of Object.entries(definitions.Calls.properties))
    if (properties?.answer) answers[call] = properties.answer;
  const schemas: Json = {};
  const referred = (within: Json) => {
    for (const [, name = ''] of JSON.stringify(within).matchAll(/"#\/components\/schemas\/([^"]+)"/g)) {
      if (name in schemas) continue;
      schemas[name] = definitions[name];
      referred(definitions[name] ?? {});
    }
  };
  referred(answers);
  return { answers, schemas };
}

function operationOf(
  route: DescribedRoute,
  schemaFor: (type: ClassConstructor<object>) => Json,
  answer: Json | undefined,
): Json {
  const { call, does, query, body, file, status = 200, type = 'application/json', largest = LARGEST_BODY } = route;
  const [method = '', path = ''] = call.split(' ');
  const role = MAY_CALL[call];
  const named = [...path.matchAll(/:(\w+)/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  return {
    operationId: `${method.toLowerCase()}${path.replace(/[^a-z]+(.)?/gi, (_, next = '') => String(next).toUpperCase())}`,
    summary: does,
    'x-role': role,
    ...(body && { 'x-largest-body': largest }),
    ...(role === 'anyone' && { security: [] }),
    parameters: [...named, ...(query ? queryParameters(query) : [])],
    ...(body && { requestBody: { required: true, content: { 'application/json': { schema: schemaFor(body) } } } }),
    ...(file && { requestBody: { required: true, content: { 'application/octet-stream': {} } } }),
    responses: {
      [status]: {
        description: 'Done.',
        ...(status !== 204 && { content: { [type]: answer ? { schema: answer } : {} } }),
      },
      default: {
        description: 'A problem.',
        content: { 'application/problem+json': { schema: { $ref: `${REF}Problem` } } },
      },
    },
  };
}

function queryParameters(type: ClassConstructor<object>): Json[] {
  const { properties = {}, required = [] } = schemaOf(type);
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }));
}

/** The schema of a class. A value that is not an instance of one of our classes has the schema of its JSON type. */
function schemaOf(type: ClassConstructor<object>): ReturnType<typeof targetConstructorToSchema> {
  const text = JSON.stringify(targetConstructorToSchema(type, OPTIONS));
  return JSON.parse(
    text.replaceAll(`{"$ref":"${REF}Array"}`, '{}').replaceAll(`"$ref":"${REF}Object"`, '"additionalProperties":true'),
  );
}

/** The classes that properties of a class are of. */
function nestedIn(type: ClassConstructor<object>): ClassConstructor<object>[] {
  const { properties = {} } = targetConstructorToSchema(type, OPTIONS);
  return Object.keys(properties).flatMap((name) => {
    const nested = defaultMetadataStorage.findTypeMetadata(type, name)?.typeFunction?.() as
      | ClassConstructor<object>
      | undefined;
    return nested && !PLAIN.includes(nested) ? [nested] : [];
  });
}

const PLAIN: readonly unknown[] = [Number, String, Boolean, Date, Object, Array];

/** Problem details (RFC 9457), with a code that does not change and what to do. */
const PROBLEM = {
  type: 'object',
  required: ['type', 'title', 'status', 'code', 'detail'],
  properties: {
    type: { type: 'string' },
    title: { type: 'string' },
    status: { type: 'integer' },
    code: { type: 'string' },
    detail: { type: 'string' },
    remedy: { type: 'string' },
    issues: { type: 'array', items: { type: 'object' } },
  },
};
