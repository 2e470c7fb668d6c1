// Writes what calls carry and answer as JSON Schema, made of the types of the contract, for the description of the API.
import { mkdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { createGenerator } from 'ts-json-schema-generator';

process.chdir(fileURLToPath(new URL('..', import.meta.url)));

// Answers may gain fields, and whoever reads them passes those over; that ours have no others is held by tests.
const schema = createGenerator({
  path: 'contract/src/calls.ts',
  tsconfig: 'contract/tsconfig.json',
  type: 'Calls',
  additionalProperties: false,
  skipTypeCheck: true,
  encodeRefs: false,
}).createSchema('Calls');
mkdirSync('contract/dist', { recursive: true });
writeFileSync('contract/dist/calls.json', JSON.stringify(schema));
